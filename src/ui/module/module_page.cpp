#include "ui/module/module_page.h"

#include "core/values/figures.h"
#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

SourcePicture::SourcePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("The source's volts before and after, and what the module takes"));
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(136)); });
}

void SourcePicture::show(const std::optional<RegulatorReplaceInput>& input,
                         const std::optional<RegulatorReplaceResult>& result, const QString& sentence)
{
    m_input = input;
    m_result = result;
    if (m_input) {
        m_most_v = m_input->source.open_v * (1 + m_input->source.spread) * 1.15;
        if (m_input->module.in_max_v)
            m_most_v = std::max(m_most_v, std::min(*m_input->module.in_max_v * 1.08, 2 * m_most_v));
    }
    setAccessibleDescription(sentence);
    update();
}

double SourcePicture::at(double v) const
{
    const double left = m_look.px(84);
    return left + (width() - left - m_look.px(122)) * std::clamp(v / m_most_v, 0.0, 1.0);
}

/// From the trough at the lowest mains to the crest at the highest, the nominal as a stroke; what it burns at
/// the right.
void SourcePicture::paintBand(QPainter& painter, double y, const QString& name, const RegulatorPoint& point,
                              const QColor& colour, bool bold) const
{
    const Colours& c = m_look.colours();
    const double high = m_look.px(16);
    paintText(painter, QRectF(0, y, m_look.px(80), high), name, m_look.font(13, bold), colour);
    if (!point.in_trough_v || !point.in_crest_v)
        return void(paintText(painter, QRectF(at(0), y, width() - at(0), high), tr("no operating point"),
                              m_look.font(13), c.breaks));
    const QRectF band(at(*point.in_trough_v), y, at(*point.in_crest_v) - at(*point.in_trough_v), high);
    painter.setPen(QPen(colour, bold ? 2 : 1.2));
    painter.setBrush(c.ribbon);
    painter.drawRect(band);
    if (point.source_v)
        painter.drawLine(QPointF(at(*point.source_v), y), QPointF(at(*point.source_v), y + high));
    paintText(painter, QRectF(band.left() - m_look.px(64), y, m_look.px(60), high), volts(*point.in_trough_v),
              m_look.caption(), colour, Qt::AlignRight | Qt::AlignVCenter);
    paintText(painter, QRectF(band.right() + m_look.px(5), y, m_look.px(70), high), volts(*point.in_crest_v),
              m_look.caption(), colour);
    if (point.loss_w)
        paintText(painter, QRectF(width() - m_look.px(118), y, m_look.px(118), high),
                  tr("burns %1").arg(watts(*point.loss_w)), m_look.font(13, bold), colour,
                  Qt::AlignRight | Qt::AlignVCenter);
}

/// What it takes, as an open bracket; its output, and the headroom it needs above that.
void SourcePicture::paintModule(QPainter& painter, double y) const
{
    const Colours& c = m_look.colours();
    const RegulatorModule& module = m_input->module;
    const double high = m_look.px(14);
    paintText(painter, QRectF(0, y, m_look.px(80), high), tr("takes"), m_look.font(13, true), c.planned);
    const double low = at(module.in_min_v.value_or(0));
    const double top = at(module.in_max_v.value_or(m_most_v));
    painter.setPen(QPen(c.planned, 2));
    painter.drawLine(QPointF(low, y + high / 2), QPointF(top, y + high / 2));
    for (const auto& [v, x] : {std::pair(module.in_min_v, low), std::pair(module.in_max_v, top)})
        if (v) {
            painter.drawLine(QPointF(x, y), QPointF(x, y + high));
            paintText(painter, QRectF(x - m_look.px(40), y + high, m_look.px(80), m_look.px(16)), volts(*v),
                      m_look.caption(), c.planned, Qt::AlignCenter);
        }
    const double out = at(m_input->output.v);
    painter.setPen(QPen(c.ink, 1, Qt::DashLine));
    painter.drawLine(QPointF(out, m_look.px(4)), QPointF(out, y + high + m_look.px(18)));
    paintText(painter, QRectF(out + 3, y + high + m_look.px(16), m_look.px(120), m_look.px(16)),
              tr("output %1").arg(volts(m_input->output.v)), m_look.caption(), c.ink);
    if (module.headroom_v > 0 && (module.kind == ModuleKind::Linear || module.kind == ModuleKind::Buck)) {
        QColor room = c.tight;
        room.setAlphaF(0.25F);
        painter.fillRect(
            QRectF(out, m_look.px(8), at(m_input->output.v + module.headroom_v) - out, y - m_look.px(8)),
            room);
    }
}

void SourcePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_input || !m_result)
        return paintSentence(painter, rect(), tr("Here stands the source's band beside what a module takes."),
                             m_look);
    const Colours& c = m_look.colours();
    paintModule(painter, m_look.px(82));
    if (m_result->before)
        paintBand(painter, m_look.px(14), tr("found"), *m_result->before, c.found, false);
    paintBand(painter, m_look.px(46), tr("planned"), m_result->after, c.planned, true);
}

ModulePage::ModulePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new SourcePicture(look))
    , m_options(new OptionList(
          tr("Modules on this source, best first"), look, 52,
          [this](QPainter& painter, const QRectF& box, int row) { paintOption(painter, box, row); },
          [this](int row) { return optionText(row); }))
    , m_details(richText())
    , m_take(new QPushButton)
{
    addAbove(*m_picture);
    body().addWidget(m_options, 10);
    body().addWidget(side(), 10);
    connect(m_options, &OptionList::looked, this, [this](int row) {
        if (row >= 0 && row < static_cast<int>(m_view.options.size())) {
            const ShelfEntry entry = m_shelf.units().at(m_view.options[static_cast<std::size_t>(row)].at);
            m_session.preview([&](Job& job) { planModule(job, entry); });
        }
        showDetails();
    });
    connect(m_options, &OptionList::taken, this, &ModulePage::take);
    follow();
}

QWidget* ModulePage::side()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Judged"), tr("The source")}, [stack](int at) { stack->setCurrentIndex(at); });
    head->addStretch();
    m_take->setObjectName(u"takeModule"_s);
    head->addWidget(m_take);
    connect(m_take, &QPushButton::clicked, this, [this] { take(m_options->current()); });
    column->addLayout(head);
    stack->addWidget(scrolling(m_details));
    auto* fields = new QWidget;
    auto* form = new QFormLayout(fields);
    const auto field = [&](const QString& label, Quantity quantity, std::optional<double> RegulatorFeed::*at,
                           const QString& hint) {
        addValueRow(
            *form,
            {.label = label,
             .quantity = quantity,
             .get = [at](const Job& job) { return job.found.feed ? (*job.found.feed).*at : std::nullopt; },
             .set =
                 [at](Job& job, std::optional<double> value) {
                     if (!job.found.feed)
                         job.found.feed = RegulatorFeed{};
                     (*job.found.feed).*at = value;
                 },
             .hint = hint},
            m_session);
    };
    field(tr("unloaded"), Quantity::Voltage, &RegulatorFeed::open_v, tr("17 V, mean, at the nominal mains"));
    field(tr("sags by"), Quantity::Resistance, &RegulatorFeed::r_ohm, tr("2.2R: volts lost for each ampere"));
    field(tr("ripple"), Quantity::Voltage, &RegulatorFeed::ripple_v, tr("0.8 V peak to peak"));
    field(tr("at"), Quantity::Current, &RegulatorFeed::ripple_at_a, tr("the output's current"));
    field(tr("others draw"), Quantity::Current, &RegulatorFeed::others_a, tr("50 mA"));
    auto* others = new TextField(
        tr("what else is fed by the source"),
        [](const Job& job) { return job.found.feed ? job.found.feed->others : std::string(); },
        [](Job& job, std::string text) {
            if (!job.found.feed)
                job.found.feed = RegulatorFeed{};
            job.found.feed->others = std::move(text);
        },
        m_session);
    others->setPlaceholderText(tr("a small radio"));
    form->addRow(tr("they are"), others);
    stack->addWidget(scrolling(fields));
    column->addWidget(stack, 1);
    return box;
}

void ModulePage::refresh()
{
    m_view = moduleView(m_session.edited(), m_shelf.units());
    // What is looked at is drawn, what is planned is marked.
    const ModuleView shown = m_session.previewing() ? moduleView(m_session.job(), m_shelf.units()) : m_view;
    setSentence(qs(shown.sentence));
    m_options->setCount(static_cast<int>(m_view.options.size()));
    if (m_view.planned && !m_session.previewing())
        m_options->follow(static_cast<int>(*m_view.planned));
    else if (m_options->current() < 0 && !m_view.options.empty())
        m_options->follow(0);
    m_picture->show(shown.input, shown.result, qs(shown.sentence));
    showDetails();
}

void ModulePage::showDetails()
{
    const int row = m_options->current();
    const bool any = row >= 0 && row < static_cast<int>(m_view.options.size());
    const bool planned = any && m_view.planned == static_cast<std::size_t>(row);
    m_take->setEnabled(any);
    m_take->setText(planned ? tr("Keep the old regulator") : tr("Put it in"));
    QString html = any ? optionHtml(m_view.options[static_cast<std::size_t>(row)]) : QString();
    html += schoolsHtml({m_view.school}, m_look.colours());
    for (const std::string& assumed : m_view.assumed)
        html += u"<span style='color:%1'>%2</span><br>"_s.arg(
            m_look.colours().softInk.name(), tr("assumed: %1").arg(qs(assumed).toHtmlEscaped()));
    m_details->setText(html);
}

QString ModulePage::optionHtml(const ModuleOption& option) const
{
    const Colours& c = m_look.colours();
    const ShelfEntry& entry = m_shelf.units().at(option.at);
    return u"<p><b>%1</b><br><span style='color:%2'>%3</span></p>"_s.arg(
               qs(entry.unit.name).toHtmlEscaped(), c.softInk.name(), qs(shelfWords(entry)).toHtmlEscaped()) +
           judgedHtml(judgedLines(option), c);
}

QString ModulePage::optionText(int row) const
{
    const ModuleOption& option = m_view.options.at(static_cast<std::size_t>(row));
    const auto& loss_w = option.result.after.loss_w;
    return tr("%1, %2: %3, %4")
        .arg(qs(m_shelf.units().at(option.at).unit.name), qs(moduleKindWords(option.input.module.kind)),
             verdictWord(option.result.verdict),
             loss_w ? tr("burns %1").arg(watts(*loss_w)) : tr("does not run"));
}

void ModulePage::paintOption(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const ModuleOption& option = m_view.options.at(static_cast<std::size_t>(row));
    const double line = m_look.px(20);
    const double left = box.left() + m_look.px(22);
    const double top = box.top() + m_look.px(5);
    paintVerdict(painter, option.result.verdict, {box.left() + m_look.px(8), top + line / 2}, m_look.px(12),
                 c);
    const QRectF first(left, top, box.right() - left - m_look.px(4), line);
    const auto& loss_w = option.result.after.loss_w;
    paintText(painter, first, loss_w ? tr("burns %1").arg(watts(*loss_w)) : tr("does not run"),
              m_look.font(13), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    paintText(painter, first.adjusted(0, 0, -m_look.px(110), 0), qs(m_shelf.units().at(option.at).unit.name),
              m_look.font(14, true), c.ink);
    QString rise;
    if (option.result.source_rise_v.value_or(0) > 0)
        rise = tr(", the source rises by %1").arg(volts(*option.result.source_rise_v));
    paintText(painter, first.translated(0, line), qs(moduleKindWords(option.input.module.kind)) + rise,
              m_look.caption(), c.planned);
}

/// A second time keeps the old regulator.
void ModulePage::take(int row)
{
    if (row < 0 || row >= static_cast<int>(m_view.options.size()))
        return;
    m_session.clearPreview();
    if (m_view.planned == static_cast<std::size_t>(row))
        return m_session.edit(tr("the old regulator kept"), [](Job& job) { job.plan.module.reset(); });
    const ShelfEntry entry = m_shelf.units().at(m_view.options.at(static_cast<std::size_t>(row)).at);
    m_session.edit(tr("%1 in the old regulator's place").arg(qs(entry.unit.name)),
                   [&](Job& job) { planModule(job, entry); });
}

} // namespace offshoot::ui
