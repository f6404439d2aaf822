#include "ui/inrush/inrush_page.h"

#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/fields/job_table.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/curves.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString seconds(double s) { return qs(formatValue(s, Quantity::Time)); }

constexpr double usualHotK = 430; // of an NTC that carries its current

SwitchOn& surge(Job& job) { return job.found.mains_side.surge; }
const SwitchOn& surgeOf(const Job& job) { return job.found.mains_side.surge; }

LimiterPlan& limiter(Job& job)
{
    if (!job.plan.limiter)
        job.plan.limiter.emplace();
    return *job.plan.limiter;
}

/// Made when the first of its figures is typed.
Ntc& ntc(Job& job)
{
    auto& part = surge(job).ntc;
    if (!part)
        part = Ntc{.r25_ohm = 10};
    return *part;
}

TableColumn pointColumn(const QString& title, Quantity quantity, std::vector<double> CapturedSurge::*at)
{
    return {.title = title,
            .get =
                [=](const Job& job, std::size_t row) {
                    return qs(formatValue(((*job.found.mains_side.captured).*at).at(row), quantity));
                },
            .set = [=](Job& job, std::size_t row, const QString& text) -> QString {
                const auto value = parseValue(text.toStdString(), quantity);
                if (!value)
                    return qs(value.problem().message);
                CapturedSurge& points = *job.found.mains_side.captured;
                (points.*at).at(row) = value->value;
                return std::ranges::is_sorted(points.t_s)
                           ? QString()
                           : InrushPage::tr("time goes forward from point to point");
            },
            .narrow = true};
}

/// A captured surge typed in, a point a row. One that came from a file is not edited: adding a point starts
/// another in its place.
TableSpec capturedSpec()
{
    return {.name = InrushPage::tr("Captured surge"),
            .one = InrushPage::tr("point"),
            .count =
                [](const Job& job) {
                    const auto& captured = job.found.mains_side.captured;
                    return captured && captured->from.empty() ? captured->t_s.size() : 0;
                },
            .add =
                [](Job& job) {
                    constexpr double stepS = 1e-3;
                    auto& captured = job.found.mains_side.captured;
                    if (!captured || !captured->from.empty())
                        captured.emplace();
                    captured->t_s.push_back(captured->t_s.empty() ? 0 : captured->t_s.back() + stepS);
                    captured->i_a.push_back(0);
                },
            .remove =
                [](Job& job, std::size_t row) {
                    auto& captured = job.found.mains_side.captured;
                    captured->t_s.erase(captured->t_s.begin() + static_cast<std::ptrdiff_t>(row));
                    captured->i_a.erase(captured->i_a.begin() + static_cast<std::ptrdiff_t>(row));
                    if (captured->t_s.empty())
                        captured.reset();
                },
            .columns = {pointColumn(InrushPage::tr("time"), Quantity::Time, &CapturedSurge::t_s),
                        pointColumn(InrushPage::tr("current"), Quantity::Current, &CapturedSurge::i_a)}};
}

} // namespace

SurgePicture::SurgePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("The surge over time"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(280), look.px(180)); });
}

void SurgePicture::show(const InrushView& view, const std::optional<CapturedSurge>& captured)
{
    m_view = view;
    m_captured = captured;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void SurgePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_view.bare.t_s.empty())
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Colours& c = m_look.colours();
    const auto milli = [](std::vector<double> t) {
        for (double& s : t)
            s *= 1e3;
        return t;
    };
    std::vector<Curve> curves;
    curves.push_back({milli(m_view.bare.t_s), m_view.bare.i_a, c.found, 1.8, Qt::SolidLine, tr("as it is")});
    if (!m_view.limited.t_s.empty())
        curves.push_back(
            {milli(m_view.limited.t_s), m_view.limited.i_a, c.planned, 2.4, Qt::SolidLine, tr("limited")});
    if (m_captured)
        curves.push_back(
            {milli(m_captured->t_s), m_captured->i_a, c.measured, 1.6, Qt::SolidLine, tr("captured")});
    const double end = 1e3 * m_view.bare.t_s.back();
    AxisRange range = yRange(curves);
    for (const auto& most : {m_view.direct_input->breaker_trip_a, m_view.direct_input->i_surge_max_a})
        if (most && *most < 3 * range.high)
            range.include(*most * 1.06);
    range.low = 0;
    const Axes axes(QRectF(rect()).adjusted(m_look.px(60), m_look.px(32), -m_look.px(16), -m_look.px(46)),
                    {0, end}, range);
    paintCurves(painter, axes, curves, m_look);
    const auto limit = [&](const std::optional<double>& most, const QString& name) {
        if (!most || *most > range.high)
            return;
        painter.setPen(QPen(c.breaks, 1.4, Qt::DashLine));
        painter.drawLine(axes.at(0, *most), axes.at(end, *most));
        const double above = axes.y(*most) - m_look.px(18);
        const bool legend = above < axes.box().top(); // stands there already
        paintText(painter,
                  QRectF(axes.box().right() - m_look.px(200), legend ? axes.y(*most) + 2 : above,
                         m_look.px(196), m_look.px(16)),
                  name.arg(amps(*most)), m_look.caption(), c.breaks, Qt::AlignRight | Qt::AlignVCenter);
    };
    limit(m_view.direct_input->breaker_trip_a, tr("breaker trips at %1"));
    limit(m_view.direct_input->i_surge_max_a, tr("rectifier bears %1"));
    if (m_view.limiter && m_view.limiter_input->bypass_s) {
        const double at = 1e3 * *m_view.limiter_input->bypass_s;
        if (at <= end) {
            painter.setPen(QPen(c.planned, 1.6, Qt::DashLine));
            painter.drawLine(axes.at(at, range.low), axes.at(at, range.high));
            paintText(painter, QRectF(axes.x(at) + 4, axes.box().top() + 2, m_look.px(120), m_look.px(16)),
                      tr("bypass closes"), m_look.caption(), c.planned);
        }
    }
    axes.paint(painter, m_look, tr("after switching on at the crest, ms"), tr("mains current, A"));
}

InrushPage::InrushPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new SurgePicture(look))
    , m_limiter(richText())
    , m_school(richText())
    , m_import(new Paragraph)
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture, 1);
    auto* row = new QHBoxLayout;
    auto* import = new QPushButton(tr("Captured surge from CSV…"));
    row->addWidget(import);
    m_import->setProperty("role", u"problem"_s);
    row->addWidget(m_import, 1);
    left->addLayout(row);
    body().addLayout(left, 5);
    body().addWidget(side(), 4);
    connect(import, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Captured surge"), {}, tr("CSV (*.csv *.txt)"));
        if (!path.isEmpty())
            m_import->setText(importSurge(path));
    });
    follow();
}

QString InrushPage::importSurge(const QString& path)
{
    QByteArray bytes;
    try {
        bytes = readFile(path);
    } catch (const StoreError& error) {
        return QString::fromUtf8(error.what());
    }
    auto read = readSurgeCsv(bytes.toStdString());
    if (!read)
        return qs(read.problem().message);
    CapturedSurge captured = *read;
    captured.from = QFileInfo(path).fileName().toStdString();
    m_session.edit(tr("captured surge"), [&](Job& job) { job.found.mains_side.captured = captured; });
    return {};
}

void InrushPage::addNtcFields(QFormLayout& form)
{
    addValueRow(form,
                {.label = tr("NTC at 25 °C"),
                 .quantity = Quantity::Resistance,
                 .get = [](const Job& j) -> std::optional<double> {
                     const auto& part = surgeOf(j).ntc;
                     return part ? std::optional(part->r25_ohm) : std::nullopt;
                 },
                 .set =
                     [](Job& j, std::optional<double> v) {
                         if (v)
                             ntc(j).r25_ohm = *v;
                         else
                             surge(j).ntc.reset();
                     },
                 .hint = tr("10R")},
                m_session);
    const auto ofNtc = [](std::optional<double> Ntc::*member) {
        return [member](const Job& j) {
            const auto& part = surgeOf(j).ntc;
            return part ? (*part).*member : std::nullopt;
        };
    };
    const auto row = [&](ValueSpec spec) { addValueRow(form, std::move(spec), m_session); };
    row({.label = tr("Its B value"),
         .quantity = Quantity::TemperatureDifference,
         .get = ofNtc(&Ntc::b_k),
         .set =
             [](Job& j, std::optional<double> v) {
                 Ntc& part = ntc(j);
                 part.b_k = v;
                 part.t_hot_k = v ? std::optional(part.t_hot_k.value_or(usualHotK)) : std::nullopt;
                 if (!v)
                     part.t_cold_k = Ntc{}.t_cold_k;
             },
         .least = 499.9,
         .most = 10000,
         .hint = tr("3000K")});
    const auto wantsB = [](const Job& j) {
        const auto& part = surgeOf(j).ntc;
        return part && !part->b_k ? tr("enter its B value first") : QString();
    };
    constexpr double coldestK = 199.9;
    constexpr double hottestK = 700;
    form.addRow(
        tr("It starts at"),
        new ValueField(
            {.label = tr("The NTC starts at"),
             .quantity = Quantity::Temperature,
             .get = [](const Job& j) -> std::optional<double> {
                 const auto& part = surgeOf(j).ntc;
                 return part ? std::optional(part->t_cold_k) : std::nullopt;
             },
             .set = [](Job& j, std::optional<double> v) { ntc(j).t_cold_k = v.value_or(Ntc{}.t_cold_k); },
             .least = coldestK,
             .most = hottestK,
             .hint = tr("25°C"),
             .wrong = wantsB},
            m_session));
    row({.label = tr("It runs at"),
         .quantity = Quantity::Temperature,
         .get = ofNtc(&Ntc::t_hot_k),
         .set = [](Job& j, std::optional<double> v) { ntc(j).t_hot_k = v; },
         .least = coldestK,
         .most = hottestK,
         .hint = tr("157°C"),
         .wrong = wantsB});
    row({.label = tr("It bears"),
         .quantity = Quantity::Energy,
         .get = ofNtc(&Ntc::energy_max_j),
         .set = [](Job& j, std::optional<double> v) { ntc(j).energy_max_j = v; },
         .hint = tr("90J")});
}

QWidget* InrushPage::foundFields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(m_look.px(2));
    const auto add = [&](const QString& label, Quantity quantity, std::optional<double> SwitchOn::*member,
                         const QString& hint) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = quantity,
                     .get = [member](const Job& j) { return surgeOf(j).*member; },
                     .set = [member](Job& j, std::optional<double> v) { surge(j).*member = v; },
                     .hint = hint},
                    m_session);
    };
    add(tr("Reservoir"), Quantity::Capacitance, &SwitchOn::c_f, tr("470u"));
    add(tr("Mains and leads"), Quantity::Resistance, &SwitchOn::source_ohm, tr("0R6"));
    add(tr("Its ESR"), Quantity::Resistance, &SwitchOn::esr_ohm, tr("0R2"));
    add(tr("Breaker trips at"), Quantity::Current, &SwitchOn::breaker_trip_a, tr("80A"));
    add(tr("Rectifier bears"), Quantity::Current, &SwitchOn::i_surge_max_a, tr("150A"));
    add(tr("Load"), Quantity::Power, &SwitchOn::load_w, tr("60W"));
    add(tr("Fuse bears"), Quantity::SquaredCurrentTime, &SwitchOn::fuse_i2t_a2s, tr("60A²s"));
    form->addRow(tr("Rectifier"),
                 new ChoiceField(
                     tr("What charges the reservoir"), {tr("bridge"), tr("doubler")},
                     [](const Job& j) { return static_cast<int>(surgeOf(j).kind); },
                     [](Job& j, int at) { surge(j).kind = static_cast<LimiterKind>(at); }, m_session));
    form->addRow(
        tr("Mains/secondary"),
        new ValueField({.label = tr("Mains over secondary volts"),
                        .quantity = Quantity::Number,
                        .get = [](const Job& j) { return std::optional(surgeOf(j).ratio); },
                        .set = [](Job& j, std::optional<double> v) { surge(j).ratio = v.value_or(1); },
                        .least = 9e-4,
                        .most = 1000},
                       m_session));
    addNtcFields(*form);
    return box;
}

QWidget* InrushPage::limiterFields()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_limiter);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(m_look.px(2));
    const auto add = [&](const QString& label, Quantity quantity, std::optional<double> LimiterPlan::*member,
                         const QString& hint) {
        addValueRow(
            *form,
            {.label = label,
             .quantity = quantity,
             .get =
                 [member](const Job& j) { return j.plan.limiter ? (*j.plan.limiter).*member : std::nullopt; },
             .set = [member](Job& j, std::optional<double> v) { limiter(j).*member = v; },
             .hint = hint},
            m_session);
    };
    const auto ofRelay = [&](const QString& label, std::optional<double> BypassRelay::*member,
                             const QString& hint) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = Quantity::Current,
                     .get =
                         [member](const Job& j) {
                             const auto& plan = j.plan.limiter;
                             return plan && plan->relay ? (*plan->relay).*member : std::nullopt;
                         },
                     .set =
                         [member](Job& j, std::optional<double> v) {
                             auto& relay = limiter(j).relay;
                             if (!relay)
                                 relay.emplace();
                             (*relay).*member = v;
                         },
                     .hint = hint},
                    m_session);
    };
    add(tr("Resistor"), Quantity::Resistance, &LimiterPlan::r_ohm, tr("33R"));
    add(tr("Its power"), Quantity::Power, &LimiterPlan::power_w, tr("25W"));
    add(tr("It bears each time"), Quantity::Energy, &LimiterPlan::pulse_j, tr("150J"));
    form->addRow(new TickField(
        tr("It is fusible: it opens and does not burn"),
        [](const Job& j) { return j.plan.limiter && j.plan.limiter->fusible; },
        [](Job& j, bool on) { limiter(j).fusible = on; }, m_session));
    add(tr("Bypass closes after"), Quantity::Time, &LimiterPlan::bypass_s, tr("0.5s"));
    ofRelay(tr("Its contacts make"), &BypassRelay::i_make_max_a, tr("80A"));
    ofRelay(tr("and carry"), &BypassRelay::i_run_max_a, tr("16A"));
    add(tr("Delay capacitor"), Quantity::Capacitance, &LimiterPlan::delay_c_f, tr("100u"));
    add(tr("Relay's supply"), Quantity::Voltage, &LimiterPlan::delay_supply_v, tr("24V"));
    add(tr("Relay pulls in at"), Quantity::Voltage, &LimiterPlan::delay_threshold_v, tr("16V"));
    layout->addLayout(form);
    auto* none = new QPushButton(tr("No surge limiter"));
    layout->addWidget(none, 0, Qt::AlignLeft);
    connect(none, &QPushButton::clicked, this,
            [this] { m_session.edit(tr("no surge limiter"), [](Job& job) { job.plan.limiter.reset(); }); });
    layout->addStretch();
    return box;
}

QWidget* InrushPage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Surge limiter"), tr("As found"), tr("As captured"), tr("Ways")},
            [stack](int index) { stack->setCurrentIndex(index); });
    head->addStretch();
    layout->addLayout(head);
    stack->addWidget(scrolling(limiterFields()));
    stack->addWidget(scrolling(foundFields()));
    auto* points = new QWidget;
    auto* column = new QVBoxLayout(points);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(new JobTable(capturedSpec(), m_session, m_look));
    column->addWidget(caption(tr("a point a row, as the screen shows it; or the whole of it from CSV")));
    column->addStretch();
    stack->addWidget(scrolling(points));
    stack->addWidget(scrolling(m_school));
    layout->addWidget(stack, 1);
    return box;
}

QString InrushPage::limiterHtml() const
{
    if (!m_view.limiter && m_session.job().need.mains.v_assumed)
        return qs(m_view.sentence);
    if (!m_view.limiter)
        return tr("Enter what the breaker or the rectifier bears: then the resistor is worked out.");
    const LimiterResult& r = *m_view.limiter;
    const Colours& c = m_look.colours();
    QString html;
    const auto line = [&](Verdict verdict, const QString& text) {
        html +=
            u"<b style='color:%1'>%2</b> %3<br>"_s.arg(c.verdict(verdict).name(), verdictWord(verdict), text);
    };
    if (r.r_needed_ohm)
        html += tr("At least <b>%1</b> for %2.")
                    .arg(qs(formatOhms(*r.r_needed_ohm)), amps(*m_view.limiter_input->i_peak_max_a)) +
                u"<br>"_s;
    line(r.pulse_verdict, tr("pulse %1 each time").arg(qs(formatValue(r.energy_j, Quantity::Energy))));
    html += (r.t95_s > r.five_tau_s ? tr("Charged to 95 % after %1: five time constants, %2, are not enough.")
                                    : tr("Charged to 95 % after %1; five time constants are %2."))
                .arg(seconds(r.t95_s), seconds(r.five_tau_s)) +
            u"<br>"_s;
    if (r.residual)
        line(r.bypass_verdict,
             r.i_close_a
                 ? tr("bypass: %1 left to charge, %2 through it")
                       .arg(qs(significant(*r.residual * 100, 2)) + u" %"_s, amps(*r.i_close_a))
                 : tr("bypass: %1 left to charge").arg(qs(significant(*r.residual * 100, 2)) + u" %"_s));
    if (r.i_close_a && r.i_run_a)
        line(r.relay_verdict, tr("contacts: %1 made, %2 carried").arg(amps(*r.i_close_a), amps(*r.i_run_a)));
    line(r.stuck_verdict, qs(m_view.stuck).toHtmlEscaped());
    const auto times = [](const DelayResult& delay) {
        return tr("%1 to %2")
            .arg(seconds(delay.t_min_s), delay.t_max_s ? seconds(*delay.t_max_s) : tr("never"));
    };
    if (m_view.delay)
        html +=
            tr("Delay: %1 with the capacitor, %2 with both tolerances; off for less than %3 it closes too "
               "soon.")
                .arg(qs(formatOhms(m_view.delay->r_ohm)), times(*m_view.delay),
                     m_view.delay->reset_s ? seconds(*m_view.delay->reset_s) : u"–"_s);
    if (m_view.delay_parts)
        html += u"<br>"_s + tr("From the drawer: <b>%1</b>, %2.")
                                .arg(qs(m_view.delay_parts->network.prettyText()).toHtmlEscaped(),
                                     times(m_view.delay_parts->delay));
    else if (m_view.delay)
        html += u"<br>"_s + tr("Nothing in the drawer comes within a tenth of it.");
    return html;
}

void InrushPage::refresh()
{
    m_view = inrushView(m_session.job());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view, m_session.job().found.mains_side.captured);
    m_limiter->setText(limiterHtml());
    m_school->setText(schoolsHtml({m_view.school}, m_look.colours()));
}

} // namespace offshoot::ui
