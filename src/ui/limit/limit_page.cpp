#include "ui/limit/limit_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using Threshold = std::optional<LimitThreshold>;
Threshold& threshold(Job& job) { return job.found.current_limit.threshold; }
constexpr double usualTolerance = 0.1;

/// A threshold stated in volts; nothing takes it away.
void stateVolts(Job& job, std::optional<double> v)
{
    Threshold& t = threshold(job);
    const double tolerance = t ? t->tolerance : usualTolerance;
    if (v)
        t = LimitThreshold{.v_v = v, .tolerance = tolerance};
    else if (t && t->v_v)
        t.reset();
}

/// A reference divided down; it starts with equal legs, to be overwritten.
void stateReference(Job& job, std::optional<double> v)
{
    constexpr double equalOhm = 1000;
    constexpr double usualDividerTolerance = 0.01;
    Threshold& t = threshold(job);
    if (v && t && t->v_ref_v)
        t->v_ref_v = v;
    else if (v)
        t = LimitThreshold{.tolerance = t ? t->tolerance : usualTolerance,
                           .v_ref_v = v,
                           .top = Network(equalOhm),
                           .bottom = Network(equalOhm),
                           .divider_tolerance = usualDividerTolerance};
    else if (t && t->v_ref_v)
        t.reset();
}

} // namespace

LimitPicture::LimitPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Current limit between the load and the rating"));
    sizedWith(*this, look, [this] { setFixedHeight(LimitPicture::sizeHint().height()); });
}

QSize LimitPicture::sizeHint() const { return {m_look.px(400), m_look.px(170)}; }

void LimitPicture::show(const LimitView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void LimitPicture::paintHeat(QPainter& painter, double y) const
{
    const Colours& c = m_look.colours();
    const LimitResult& r = *m_view.result;
    if (!r.power_worst_w)
        return;
    QString heat = tr("shunt %1, at worst %2")
                       .arg(qs(formatValue(*r.power_w, Quantity::Power)),
                            qs(formatValue(*r.power_worst_w, Quantity::Power)));
    if (m_view.input->hiccup_duty < 1)
        heat += tr(", in hiccup %1").arg(qs(formatValue(*r.power_hiccup_w, Quantity::Power)));
    paintVerdict(painter, r.heatVerdict(), QPointF(m_look.px(20), y + m_look.px(9)), m_look.px(12), c);
    paintText(painter, QRectF(m_look.px(34), y, width() - m_look.px(40), m_look.px(18)), heat,
              m_look.font(13), c.ink);
}

void LimitPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_view.result || !m_view.result->i_limit_a) {
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    }
    const LimitResult& r = *m_view.result;
    const auto& load = m_view.input->load_a;
    const auto& rated = m_view.input->rated_a;
    AxisRange range{0, *r.i_limit_max_a * 1.15};
    for (const auto& a : {load, rated})
        if (a)
            range.include(*a * 1.15);
    const double left = m_look.px(20);
    const double right = width() - m_look.px(24);
    const double axis = m_look.px(106);
    const double top = m_look.px(36);
    const auto x = [&](double a) { return left + a / range.high * (right - left); };
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 56 : 40);
    // A limit that lies between the load's peak and the rating does both of its jobs.
    painter.fillRect(
        QRectF(x(load.value_or(0)), top, x(rated.value_or(range.high)) - x(load.value_or(0)), axis - top),
        band);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(QPointF(left, axis), QPointF(right, axis));
    const double step = niceStep(range.high, 6);
    for (const double a : ticks(0, range.high, step)) {
        painter.drawLine(QPointF(x(a), axis), QPointF(x(a), axis + m_look.px(5)));
        paintText(painter, QRectF(x(a) - m_look.px(40), axis + m_look.px(5), m_look.px(80), m_look.px(18)),
                  qs(significant(a, 3)) + (a + step > range.high ? u" A"_s : QString()), m_look.caption(),
                  c.softInk, Qt::AlignCenter);
    }
    const auto edge = [&](const std::optional<double>& a, const QString& name, double y) {
        if (!a)
            return;
        painter.setPen(QPen(c.fits, 1.6, Qt::DashLine));
        painter.drawLine(QPointF(x(*a), top - m_look.px(4)), QPointF(x(*a), axis));
        const double wide = m_look.px(190);
        const double from = std::clamp(x(*a) - wide / 2, 0.0, width() - wide);
        paintText(painter, QRectF(from, y, wide, m_look.px(18)), name.arg(amps(*a)), m_look.font(13), c.fits,
                  Qt::AlignCenter);
    };
    edge(load, tr("load's peak %1"), m_look.px(0));
    edge(rated, tr("supply bears %1"), m_look.px(16));
    const Verdict verdict = r.limitVerdict();
    const double middle = (top + axis) / 2 + m_look.px(4);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.loss);
    painter.drawRoundedRect(QRectF(x(*r.i_limit_min_a), middle - m_look.px(6),
                                   x(*r.i_limit_max_a) - x(*r.i_limit_min_a), m_look.px(12)),
                            3, 3);
    painter.setBrush(c.planned);
    painter.drawEllipse(QPointF(x(*r.i_limit_a), middle), m_look.px(5), m_look.px(5));
    paintText(
        painter,
        QRectF(x(*r.i_limit_max_a) + m_look.px(8), middle - m_look.px(10), m_look.px(160), m_look.px(20)),
        amps(*r.i_limit_a), m_look.number(), c.verdict(verdict));
    paintHeat(painter, m_look.px(146));
}

LimitPage::LimitPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new LimitPicture(look))
    , m_options(new OptionList(
          tr("Shunts from the drawer"), look, 30,
          [this](QPainter& painter, const QRectF& box, int row) { paintOption(painter, box, row); },
          [this](int row) { return optionText(row); }))
{
    addAbove(*m_picture);
    body().addWidget(scrolling(senseFields()), 1);
    body().addWidget(m_options, 1);
    offer(*m_options, tr("shunt"), [this](Job& job, int row) { job.plan.shunt = planOf(row); });
    follow();
}

constexpr double mostShare = 0.99;

/// Threshold or reference and divider, and how far each may be off.
void LimitPage::addThresholdFields(QFormLayout& form)
{
    const auto add = [&](ValueSpec spec) { addValueRow(form, std::move(spec), m_session); };
    const auto has = [](const Job& j, auto member) {
        const Threshold& t = j.found.current_limit.threshold;
        return t ? (*t).*member : decltype((*t).*member){};
    };
    const auto wantsThreshold = [](const Job& j) {
        return j.found.current_limit.threshold ? QString() : tr("enter the threshold first");
    };
    const auto wantsReference = [has](const Job& j) {
        return has(j, &LimitThreshold::v_ref_v) ? QString() : tr("enter the reference first");
    };
    add({.label = tr("Threshold"),
         .quantity = Quantity::Voltage,
         .get = [has](const Job& j) { return has(j, &LimitThreshold::v_v); },
         .set = stateVolts,
         .hint = tr("100mV")});
    add({.label = tr("or its reference"),
         .quantity = Quantity::Voltage,
         .get = [has](const Job& j) { return has(j, &LimitThreshold::v_ref_v); },
         .set = stateReference,
         .hint = tr("2.5V")});
    const auto leg = [&](const QString& label, std::optional<Network> LimitThreshold::*member) {
        add({.label = label,
             .quantity = Quantity::Resistance,
             .get =
                 [has, member](const Job& j) {
                     const auto network = has(j, member);
                     return network ? std::optional(network->ohm()) : std::nullopt;
                 },
             .set =
                 [member](Job& j, std::optional<double> v) {
                     if (Threshold& t = threshold(j); v && t && t->v_ref_v)
                         (*t).*member = Network(*v);
                 },
             .hint = tr("1k"),
             .wrong = wantsReference});
    };
    leg(tr("its divider, top"), &LimitThreshold::top);
    leg(tr("its divider, bottom"), &LimitThreshold::bottom);
    add({.label = tr("Threshold ±"),
         .quantity = Quantity::Voltage,
         .get =
             [](const Job& j) {
                 const Threshold& t = j.found.current_limit.threshold;
                 return t ? std::optional(t->tolerance) : std::nullopt;
             },
         .set =
             [](Job& j, std::optional<double> v) {
                 if (Threshold& t = threshold(j))
                     t->tolerance = v.value_or(0);
             },
         .zeroAllowed = true,
         .most = mostShare,
         .percent = true,
         .hint = tr("10 %"),
         .wrong = wantsThreshold});
    add({.label = tr("its divider ±"),
         .quantity = Quantity::Voltage,
         .get = [has](const Job& j) { return has(j, &LimitThreshold::divider_tolerance); },
         .set =
             [](Job& j, std::optional<double> v) {
                 if (Threshold& t = threshold(j); t && t->v_ref_v)
                     t->divider_tolerance = v.value_or(0);
             },
         .zeroAllowed = true,
         .most = mostShare,
         .percent = true,
         .hint = tr("1 %"),
         .wrong = wantsReference});
}

/// The shunt and what stands in series with it inside the sensed path.
void LimitPage::addShuntFields(QFormLayout& form)
{
    const auto add = [&](ValueSpec spec) { addValueRow(form, std::move(spec), m_session); };
    add({.label = tr("Shunt"),
         .quantity = Quantity::Resistance,
         .get =
             [](const Job& j) {
                 const auto& shunt = j.found.current_limit.shunt;
                 return shunt ? std::optional(shunt->ohm()) : std::nullopt;
             },
         .set =
             [](Job& j, std::optional<double> v) {
                 j.found.current_limit.shunt = v ? std::optional(Network(*v)) : std::nullopt;
             },
         .hint = tr("0R022")});
    add({.label = tr("Shunt ±"),
         .quantity = Quantity::Resistance,
         .get = [](const Job& j) { return std::optional(j.found.current_limit.shunt_tolerance); },
         .set =
             [](Job& j, std::optional<double> v) {
                 j.found.current_limit.shunt_tolerance = v.value_or(CurrentSense{}.shunt_tolerance);
             },
         .zeroAllowed = true,
         .most = mostShare,
         .percent = true});
    add({.label = tr("Shunt part's power"),
         .quantity = Quantity::Power,
         .get = [](const Job& j) { return j.found.current_limit.part_power_w; },
         .set = [](Job& j, std::optional<double> v) { j.found.current_limit.part_power_w = v; },
         .hint = tr("2W")});
    add({.label = tr("Solder and track"),
         .quantity = Quantity::Resistance,
         .get = [](const Job& j) { return std::optional(j.found.current_limit.lead_ohm); },
         .set = [](Job& j, std::optional<double> v) { j.found.current_limit.lead_ohm = v.value_or(0); },
         .zeroAllowed = true,
         .hint = tr("0R001")});
}

QWidget* LimitPage::senseFields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(m_look.px(3));
    const auto add = [&](ValueSpec spec) { addValueRow(*form, std::move(spec), m_session); };
    addThresholdFields(*form);
    addShuntFields(*form);
    add({.label = tr("In hiccup it is on"),
         .quantity = Quantity::Voltage,
         .get = [](const Job& j) { return std::optional(j.found.current_limit.hiccup_duty); },
         .set = [](Job& j, std::optional<double> v) { j.found.current_limit.hiccup_duty = v.value_or(1); },
         .most = 1,
         .percent = true,
         .hint = tr("100 %")});
    add({.label = tr("Load's peak"),
         .quantity = Quantity::Current,
         .get = [](const Job& j) { return j.need.peak_a; },
         .set = [](Job& j, std::optional<double> v) { j.need.peak_a = v; },
         .hint = tr("3A")});
    form->addRow(new TickField(
        tr("It senses the switch on the primary side"),
        [](const Job& j) { return j.found.current_limit.primary_side; },
        [](Job& j, bool on) { j.found.current_limit.primary_side = on; }, m_session));
    form->addRow(new TickField(
        tr("The voltage is sensed behind the shunt"),
        [](const Job& j) { return j.found.current_limit.in_loop; },
        [](Job& j, bool on) { j.found.current_limit.in_loop = on; }, m_session));
    return box;
}

void LimitPage::refresh()
{
    m_view = limitView(m_session.job(), m_session.evaluation());
    m_picture->show(m_view);
    setSentence(qs(m_view.sentence));
    const bool any = m_view.result && m_view.result->options;
    m_options->setCount(any ? static_cast<int>(m_view.result->options->size()) : 0);
    const auto& planned = m_session.job().plan.shunt;
    for (std::size_t i = 0; planned && any && i < m_view.result->options->size(); ++i)
        if ((*m_view.result->options)[i].network == planned->network)
            m_options->follow(static_cast<int>(i));
}

QString LimitPage::optionText(int row) const
{
    const ShuntOption& o = m_view.result->options->at(static_cast<std::size_t>(row));
    return tr("%1: limits at %2, %3 to %4, hottest part %5")
        .arg(qs(o.network.prettyText()), amps(o.i_limit_a), amps(o.worst_min_a), amps(o.worst_max_a),
             qs(formatValue(o.power.w_max, Quantity::Power)));
}

void LimitPage::paintOption(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const ShuntOption& o = m_view.result->options->at(static_cast<std::size_t>(row));
    paintVerdict(painter, o.verdict(), {box.left() + m_look.px(7), box.center().y()}, m_look.px(12), c);
    paintText(painter, QRectF(box.left() + m_look.px(22), box.top(), box.width() * 0.4, box.height()),
              qs(o.network.prettyText()), m_look.font(14, true), c.ink);
    paintText(
        painter, box,
        tr("%1 to %2 · %3")
            .arg(amps(o.worst_min_a), amps(o.worst_max_a), qs(formatValue(o.power.w_max, Quantity::Power))),
        m_look.font(13), c.planned, Qt::AlignRight | Qt::AlignVCenter);
}

ShuntPlan LimitPage::planOf(int row) const
{
    return shuntPlan(m_view.result->options->at(static_cast<std::size_t>(row)));
}

} // namespace offshoot::ui
