#include "ui/rewind/rewind_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/value_field.h"
#include "ui/paint/marks.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr std::int64_t perLayer = 30;
constexpr std::int64_t mostDrawn = 240; // of a mains winding; its number says the rest
constexpr double layerPitch = 0.9;

} // namespace

WindingPicture::WindingPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Windings as layers of turns"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(240), look.px(120)); });
}

void WindingPicture::show(const RewindView& view, const QString& rail, std::optional<std::int64_t> turns)
{
    m_view = view;
    m_rail = rail;
    m_turns = turns;
    setAccessibleDescription(qs(view.sentence));
    update();
}

/// Turns in cross-section, wound in layers of `perLayer`; gives the height it took.
double WindingPicture::paintWinding(QPainter& painter, const QRectF& box, const Winding& winding) const
{
    const Colours& c = m_look.colours();
    paintText(painter, QRectF(box.left(), box.top(), box.width(), m_look.px(20)), winding.name,
              m_look.font(13, true), c.ink);
    const double top = box.top() + m_look.px(22);
    const double pitch = box.width() / (perLayer + 0.5);
    const double size = pitch - 2;
    const std::int64_t drawn = std::min(winding.turns, mostDrawn);
    for (std::int64_t i = 0; i < drawn; ++i) {
        // The next layer lies in the grooves of the one below.
        const std::int64_t layer = i / perLayer;
        const double shift = layer % 2 == 0 ? 0 : pitch / 2;
        const QRectF wire(box.left() + static_cast<double>(i % perLayer) * pitch + shift,
                          top + static_cast<double>(layer) * pitch * layerPitch, size, size);
        painter.setPen(QPen(winding.colour, 1.6));
        painter.setBrush(winding.filled ? QBrush(winding.colour) : QBrush(Qt::NoBrush));
        painter.drawEllipse(wire);
    }
    // The dot marks the start, so that a winding put back the wrong way round shows.
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ink);
    painter.drawEllipse(QPointF(box.left() - m_look.px(9), top + size / 2), m_look.px(3), m_look.px(3));
    const auto full = (drawn + perLayer - 1) / perLayer;
    const auto layers = static_cast<double>(full);
    return m_look.px(34) + layers * pitch * layerPitch;
}

void WindingPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_view.input) {
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    }
    const RewindInput& in = *m_view.input;
    std::vector<Winding> windings;
    if (in.primary_turns)
        windings.push_back(
            {tr("primary, %1 turns").arg(*in.primary_turns), *in.primary_turns, c.found, false});
    if (in.aux)
        windings.push_back({tr("auxiliary, %1 turns").arg(in.aux->turns), in.aux->turns, c.found, false});
    windings.push_back({tr("%1 as found, %2 turns").arg(m_rail).arg(in.secondary_turns), in.secondary_turns,
                        c.found, false});
    if (m_turns)
        windings.push_back({tr("%1 planned, %2 turns").arg(m_rail).arg(*m_turns), *m_turns, c.planned, true});
    double y = m_look.px(6);
    for (const Winding& winding : windings)
        y += paintWinding(painter, QRectF(m_look.px(22), y, width() - m_look.px(36), height() - y), winding);
}

RewindPage::RewindPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new WindingPicture(look))
    , m_options(new OptionList(
          tr("Whole turns"), look, 46,
          [this](QPainter& painter, const QRectF& box, int row) { paintOption(painter, box, row); },
          [this](int row) { return optionText(row); }))
    , m_school(richText())
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture, 1);
    left->addWidget(turnsFields());
    body().addLayout(left, 1);
    auto* right = new QVBoxLayout;
    right->addWidget(m_options, 7);
    right->addWidget(scrolling(m_school), 8);
    right->addWidget(caption(tr("↑ ↓ look · Enter plan it · the found turns: divider only")));
    body().addLayout(right, 1);
    offer(*m_options, tr("rewind"), [this](Job& job, int row) { apply(job, row); });
    follow();
}

QWidget* RewindPage::turnsFields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    constexpr double mostTurns = 10000;
    const auto add = [&](const QString& label, const auto& turnsOf) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = Quantity::Number,
                     .get =
                         [turnsOf](const Job& job) {
                             const std::optional<std::int64_t>& turns = turnsOf(job);
                             return turns ? std::optional(static_cast<double>(*turns)) : std::nullopt;
                         },
                     .set =
                         [turnsOf](Job& job, std::optional<double> v) {
                             turnsOf(job) = v ? std::optional(std::llround(*v)) : std::nullopt;
                         },
                     .least = 0.5,
                     .most = mostTurns,
                     .hint = tr("turns")},
                    m_session);
    };
    add(
        tr("Primary turns"), [](auto& j) -> auto& { return j.found.transformer.primary_turns; });
    add(
        tr("Auxiliary turns"), [](auto& j) -> auto& { return j.found.transformer.auxiliary_turns; });
    add(
        tr("This rail's turns"), [this](auto& j) -> auto& {
            return railNamed(j.found, m_session.selectedRail().name)->winding.turns;
        });
    return box;
}

void RewindPage::refresh()
{
    const Rail& rail = m_session.selectedRail();
    m_view = rewindView(m_session.job(), m_session.evaluation(), rail);
    const auto& planned = m_session.job().plan.rewind;
    m_picture->show(m_view, qs(rail.name),
                    planned && planned->rail == rail.name ? std::optional(planned->turns) : std::nullopt);
    setSentence(qs(m_view.sentence));
    m_school->setText(m_view.school ? schoolsHtml({*m_view.school}, m_look.colours()) : QString());
    m_options->setCount(m_view.result ? static_cast<int>(m_view.result->options.size()) : 0);
    if (m_view.result) {
        const auto& all = m_view.result->options;
        const std::int64_t turns = planned ? planned->turns : m_view.input->secondary_turns;
        m_options->follow(
            static_cast<int>(std::ranges::find(all, turns, &RewindOption::turns) - all.begin()));
    }
}

QString RewindPage::optionText(int row) const
{
    const RewindOption& o = m_view.result->options.at(static_cast<std::size_t>(row));
    return tr("%1 turns, %2 a turn, controller supply %3, switch %4, rectifier %5, %6")
        .arg(QString::number(o.turns), qs(formatVolts(o.volts_per_turn)),
             o.v_cc_v ? qs(formatVolts(*o.v_cc_v)) : tr("none"),
             o.switch_v ? qs(formatVolts(*o.switch_v)) : tr("unknown"),
             o.rectifier_reverse_v ? qs(formatVolts(*o.rectifier_reverse_v)) : tr("unknown"),
             o.verdict ? verdictWord(*o.verdict) : tr("nothing to judge"));
}

void RewindPage::paintOption(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const RewindOption& o = m_view.result->options.at(static_cast<std::size_t>(row));
    const bool keeps = o.turns == m_view.input->secondary_turns;
    const double line = m_look.px(20);
    const double top = box.top() + m_look.px(2);
    if (o.verdict)
        paintVerdict(painter, *o.verdict, {box.left() + m_look.px(7), top + line / 2}, m_look.px(12), c);
    QString name = tr("%1 turns").arg(o.turns);
    if (keeps)
        name += tr(" · divider only");
    if (o.turns == m_view.result->best_turns)
        name += tr(" · best");
    paintText(painter, QRectF(box.left() + m_look.px(22), top, box.width(), line), name,
              m_look.font(14, true), keeps ? c.found : c.ink);
    QString right = o.switch_v ? tr("switch %1").arg(qs(formatVolts(*o.switch_v))) : QString();
    if (o.fill_scale)
        right += tr(" · space %1 %").arg(qs(significant(*o.fill_scale * 100, 3)));
    paintText(painter, QRectF(box.left(), top, box.width(), line), right, m_look.caption(), c.softInk,
              Qt::AlignRight | Qt::AlignVCenter);
    if (!o.v_cc_v || !m_view.input->aux) {
        paintText(painter, QRectF(box.left() + m_look.px(22), top + line, box.width(), line),
                  o.rectifier_reverse_v
                      ? tr("rectifier %1 reverse").arg(qs(formatVolts(*o.rectifier_reverse_v)))
                      : tr("output %1").arg(qs(formatVolts(o.v))),
                  m_look.caption(), c.softInk);
        return;
    }
    // The controller's supply on its window, from lockout to maximum.
    const AuxiliaryWinding& aux = *m_view.input->aux;
    const QRectF bar(box.left() + m_look.px(22), top + line + m_look.px(6), box.width() * 0.5, m_look.px(8));
    const double high = aux.max_v * 1.15;
    const auto x = [&](double v) { return bar.left() + std::clamp(v / high, 0.0, 1.0) * bar.width(); };
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.hairline);
    painter.drawRect(bar);
    QColor band = c.fits;
    band.setAlpha(90);
    painter.setBrush(band);
    painter.drawRect(QRectF(x(aux.min_v), bar.top(), x(aux.max_v) - x(aux.min_v), bar.height()));
    painter.setBrush(o.vcc_verdict ? c.verdict(*o.vcc_verdict) : c.ink);
    painter.drawEllipse(QPointF(x(*o.v_cc_v), bar.center().y()), m_look.px(5), m_look.px(5));
    paintText(painter, QRectF(bar.right() + m_look.px(8), top + line, box.right() - bar.right(), line),
              tr("controller %1").arg(qs(formatVolts(*o.v_cc_v))), m_look.caption(), c.softInk);
}

void RewindPage::apply(Job& job, int row) const
{
    const std::int64_t turns = m_view.result->options.at(static_cast<std::size_t>(row)).turns;
    if (turns == m_view.input->secondary_turns)
        job.plan.rewind.reset();
    else
        job.plan.rewind = RewindPlan{.rail = m_session.selectedRail().name, .turns = turns};
}

} // namespace offshoot::ui
