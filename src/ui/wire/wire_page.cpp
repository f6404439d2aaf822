#include "ui/wire/wire_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/plan/wiring_tab.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

Cable& cable(Job& job) { return job.found.rails.front().cable; }
const Cable& cable(const Job& job) { return job.found.rails.front().cable; }
RemoteSense& sense(Job& job) { return job.found.rails.front().sense; }
const RemoteSense& sense(const Job& job) { return job.found.rails.front().sense; }

} // namespace

RunPicture::RunPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Voltage along the run, there and back"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(260), look.px(180)); });
}

void RunPicture::show(const WireView& view, const Job& job)
{
    m_view = view;
    m_target = job.need.target;
    m_remote = job.plan.remote_sense;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void RunPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_view.run.empty())
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Colours& c = m_look.colours();
    const double terminal = m_view.terminal_v;
    // What the load may see is counted from what its negative terminal stands at.
    const double base = m_view.run.back().negative_v;
    const double arrives = m_view.run.back().positive_v - base;
    const double drop = terminal - arrives;
    const double half = std::max(drop * 0.75, 0.02 * terminal);
    const double length = m_view.input->length_m;
    const double gap = m_look.px(44);
    const double left = m_look.px(64);
    const double right = m_look.px(112);
    const double panel = (height() - m_look.px(86) - gap) / 2.0;
    const Axes upper(QRectF(left, m_look.px(40), width() - left - right, panel), {0, length},
                     {terminal - 1.6 * half, terminal + 0.4 * half});
    const Axes lower(QRectF(left, m_look.px(40) + panel + gap, width() - left - right, panel), {0, length},
                     {-0.4 * half, 1.6 * half});
    if (m_target) {
        QColor band = c.fits;
        band.setAlpha(m_look.dark() ? 60 : 44);
        const double top =
            std::clamp(upper.y(m_target->max_v + base), upper.box().top(), upper.box().bottom());
        const double bottom =
            std::clamp(upper.y(m_target->min_v + base), upper.box().top(), upper.box().bottom());
        painter.fillRect(QRectF(upper.box().right() - m_look.px(34), top, m_look.px(34), bottom - top), band);
    }
    const auto line = [&](const Axes& axes, double RunPoint::*member) {
        QPolygonF path;
        for (const RunPoint& point : m_view.run)
            path << axes.at(point.at_m, point.*member);
        painter.setPen(QPen(c.planned, m_look.px(4), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(path);
        for (const RunPoint& point : m_view.run) {
            const QPointF at = axes.at(point.at_m, point.*member);
            painter.setPen(QPen(c.sheet, 1.2));
            painter.setBrush(point.name == "connector" ? c.sheet : c.ink);
            if (point.name == "connector") {
                painter.setPen(QPen(c.ink, 1.6));
                painter.drawRect(
                    QRectF(at.x() - m_look.px(4), at.y() - m_look.px(4), m_look.px(8), m_look.px(8)));
            } else {
                painter.drawEllipse(at, m_look.px(5), m_look.px(5));
            }
        }
    };
    upper.paint(painter, m_look, {}, tr("positive, V"));
    lower.paint(painter, m_look, tr("along the run, m"), tr("return, V"));
    if (m_remote && m_view.sense_input) {
        const double sensed = m_view.sense_input->v_set_v + base;
        painter.setPen(QPen(c.softInk, 1.4, Qt::DashLine));
        painter.drawLine(upper.at(0, sensed), upper.at(length, sensed));
        const QRectF words(upper.x(0) + m_look.px(8), upper.y(sensed) + m_look.px(2), m_look.px(210),
                           m_look.px(16));
        if (words.bottom() < upper.box().bottom()) // a low picture has the line alone
            paintText(painter, words, tr("set point, sensed at the load"), m_look.caption(), c.softInk);
    }
    line(upper, &RunPoint::positive_v);
    line(lower, &RunPoint::negative_v);
    const double x = upper.box().right() + m_look.px(10);
    const double yTop = upper.y(m_view.run.back().positive_v);
    const double yBottom = lower.y(m_view.run.back().negative_v);
    painter.setPen(QPen(c.ink, 1.4));
    painter.drawPolyline(QPolygonF{{QPointF(x, yTop), QPointF(x + m_look.px(7), yTop),
                                    QPointF(x + m_look.px(7), yBottom), QPointF(x, yBottom)}});
    std::optional<Verdict> verdict;
    if (m_target)
        verdict = judgeWithin(arrives, m_target->min_v, m_target->max_v);
    const double middle = (yTop + yBottom) / 2;
    if (verdict)
        paintVerdict(painter, *verdict, {x + m_look.px(20), middle - m_look.px(20)}, m_look.px(12), c);
    paintText(painter, QRectF(x + m_look.px(12), middle - m_look.px(10), m_look.px(92), m_look.px(22)),
              volts(arrives), m_look.number(), verdict ? c.verdict(*verdict) : c.planned);
    paintText(painter, QRectF(x + m_look.px(12), middle + m_look.px(12), m_look.px(92), m_look.px(18)),
              tr("at the load"), m_look.caption(), c.softInk);
    paintText(painter, QRectF(upper.x(0) - m_look.px(2), m_look.px(0), m_look.px(180), m_look.px(16)),
              tr("%1 at the unit").arg(volts(terminal)), m_look.font(13, true), c.planned);
}

WirePage::WirePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new RunPicture(look))
    , m_sizes(new OptionList(
          tr("Wire sizes"), look, 30,
          [this](QPainter& painter, const QRectF& box, int row) { paintSize(painter, box, row); },
          [this](int row) { return sizeText(row); }))
    , m_stack(new QStackedWidget)
    , m_sense(richText())
    , m_merge(richText())
    , m_school(richText())
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture, 1);
    left->addWidget(runFields());
    body().addLayout(left, 3);
    body().addWidget(side(), 2);
    offer(*m_sizes, tr("wire"),
          [this](Job& job, int row) { job.plan.wire = m_view.sizes.at(static_cast<std::size_t>(row)).wire; });
    follow();
}

QWidget* WirePage::runFields()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    const auto column = [&](std::vector<ValueSpec> specs) {
        auto* form = new QFormLayout;
        form->setVerticalSpacing(m_look.px(2));
        for (ValueSpec& spec : specs)
            addValueRow(*form, std::move(spec), m_session);
        row->addLayout(form, 1);
    };
    column({{.label = tr("Run, one way"),
             .quantity = Quantity::Length,
             .get = [](const Job& j) { return cable(j).length_m; },
             .set = [](Job& j, std::optional<double> v) { cable(j).length_m = v; },
             .hint = tr("12m")},
            {.label = tr("Wire there now"),
             .quantity = Quantity::WireSize,
             .get = [](const Job& j) { return cable(j).area_m2; },
             .set = [](Job& j, std::optional<double> v) { cable(j).area_m2 = v; },
             .hint = tr("AWG22")}});
    column(
        {{.label = tr("Conductors"),
          .quantity = Quantity::Number,
          .get =
              [](const Job& j) {
                  return std::optional(
                      static_cast<double>(j.plan.wire ? j.plan.wire->conductors : cable(j).conductors));
              },
          .set =
              [](Job& j, std::optional<double> v) {
                  const auto count =
                      static_cast<std::int64_t>(std::clamp(std::round(v.value_or(1)), 1.0, 100.0));
                  (j.plan.wire ? j.plan.wire->conductors : cable(j).conductors) = count;
              },
          .most = 100,
          .hint = tr("1")},
         {.label = tr("All connectors"),
          .quantity = Quantity::Resistance,
          .get = [](const Job& j) { return std::optional(cable(j).contact_ohm); },
          .set = [](Job& j, std::optional<double> v) { cable(j).contact_ohm = v.value_or(0); },
          .zeroAllowed = true,
          .hint = tr("0R02")},
         {.label = tr("It is at"),
          .quantity = Quantity::Temperature,
          .get = [](const Job& j) { return std::optional(cable(j).temperature_k); },
          .set = [](Job& j,
                    std::optional<double> v) { cable(j).temperature_k = v.value_or(Cable{}.temperature_k); },
          .least = 59.9,
          .most = 600,
          .hint = tr("20°C")}});
    return box;
}

QWidget* WirePage::senseFields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(m_look.px(2));
    const auto optional = [&](const QString& label, Quantity quantity,
                              std::optional<double> RemoteSense::*member, const QString& hint) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = quantity,
                     .get = [member](const Job& j) { return sense(j).*member; },
                     .set = [member](Job& j, std::optional<double> v) { sense(j).*member = v; },
                     .hint = hint},
                    m_session);
    };
    const auto plain = [&](const QString& label, Quantity quantity, double RemoteSense::*member) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = quantity,
                     .get = [member](const Job& j) { return std::optional(sense(j).*member); },
                     .set = [member](Job& j, std::optional<double> v) { sense(j).*member = v.value_or(0); },
                     .zeroAllowed = true},
                    m_session);
    };
    optional(tr("Makes up for"), Quantity::Voltage, &RemoteSense::range_v, tr("0.5V"));
    optional(tr("Terminals' ceiling"), Quantity::Voltage, &RemoteSense::ceiling_v, tr("5.5V"));
    optional(tr("Fallback resistors"), Quantity::Resistance, &RemoteSense::r_fallback_ohm, tr("10R"));
    optional(tr("Loop bandwidth"), Quantity::Frequency, &RemoteSense::bandwidth_hz, tr("2kHz"));
    optional(tr("Capacitor at the load"), Quantity::Capacitance, &RemoteSense::load_capacitor_f, tr("1000u"));
    plain(tr("Each sense wire"), Quantity::Resistance, &RemoteSense::r_lead_ohm);
    plain(tr("Each pin draws"), Quantity::Current, &RemoteSense::current_a);
    form->addRow(new TickField(
        tr("The unit has sense terminals"), [](const Job& j) { return sense(j).fitted; },
        [](Job& j, bool on) { sense(j).fitted = on; }, m_session));
    return box;
}

QWidget* WirePage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Wire"), tr("Sense"), tr("Merging"), tr("Ways"), tr("Wiring")},
            [this](int index) { m_stack->setCurrentIndex(index); });
    head->addStretch();
    layout->addLayout(head);
    auto* wire = new QWidget;
    auto* wireLayout = new QVBoxLayout(wire);
    wireLayout->setContentsMargins(0, 0, 0, 0);
    wireLayout->addWidget(m_sizes, 1);
    wireLayout->addWidget(caption(tr("drop and loss · ↑ ↓ look · Enter plan it · tight above 6 A/mm²")));
    m_stack->addWidget(wire);
    auto* remote = new QWidget;
    auto* remoteLayout = new QVBoxLayout(remote);
    remoteLayout->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    auto* insideLayout = new QVBoxLayout(inside);
    insideLayout->setContentsMargins(0, 0, m_look.px(4), 0);
    insideLayout->addWidget(m_sense);
    insideLayout->addWidget(senseFields());
    insideLayout->addStretch();
    remoteLayout->addWidget(scrolling(inside), 1);
    m_remote = new QPushButton;
    remoteLayout->addWidget(m_remote, 0, Qt::AlignLeft);
    connect(m_remote, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("remote sense"), [](Job& job) { job.plan.remote_sense = !job.plan.remote_sense; });
    });
    m_stack->addWidget(remote);
    m_stack->addWidget(scrolling(m_merge));
    m_stack->addWidget(scrolling(m_school));
    m_stack->addWidget(new WiringTab("run", m_session, m_look));
    layout->addWidget(m_stack, 1);
    return box;
}

void WirePage::refresh()
{
    const Job& job = m_session.job();
    m_view = wireView(job, m_session.evaluation());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view, job);
    m_sizes->setCount(static_cast<int>(m_view.sizes.size()));
    for (std::size_t i = 0; job.plan.wire && i < m_view.sizes.size(); ++i)
        if (m_view.sizes[i].wire.area_m2 == job.plan.wire->area_m2)
            m_sizes->follow(static_cast<int>(i));
    m_sense->setText(senseHtml());
    m_merge->setText(mergeHtml());
    m_remote->setText(job.plan.remote_sense ? tr("Do not use the sense wires")
                                            : tr("Plan: sense wires to the load"));
    m_remote->setEnabled(m_view.sense.has_value());
    QString html = schoolsHtml({m_view.school}, m_look.colours());
    for (const std::string& assumed : m_view.assumed)
        html += u"<p style='color:%1'>%2</p>"_s.arg(m_look.colours().softInk.name(),
                                                    tr("assumed, %1").arg(qs(assumed).toHtmlEscaped()));
    m_school->setText(html);
}

QString WirePage::senseHtml() const
{
    if (!m_view.sense)
        return tr("Enter length and size of the run first.");
    const Colours& c = m_look.colours();
    const QStringList names{tr("sensed at the load"),
                            tr("sensed at the terminals"),
                            tr("positive sense wire open"),
                            tr("negative sense wire open"),
                            tr("both open"),
                            tr("sense wires swapped")};
    QString html = u"<table cellspacing='0' cellpadding='2'><tr><td></td><td>%1</td><td>%2</td></tr>"_s.arg(
        tr("at the load"), tr("at the terminals"));
    for (std::size_t i = 0; i < m_view.sense->states.size(); ++i) {
        const SenseOutcome& state = m_view.sense->states[i];
        const QString mark = state.verdict == Verdict::Fits     ? u"●"_s
                             : state.verdict == Verdict::Breaks ? u"▼"_s
                                                                : u"▢"_s;
        html += u"<tr><td><b style='color:%1'>%2</b> %3</td><td>%4</td><td>%5</td></tr>"_s.arg(
            c.verdict(state.verdict).name(), mark, names.at(static_cast<int>(i)),
            state.runaway ? tr("runs away") : volts(*state.v_load_v),
            state.runaway ? tr("ceiling") : volts(*state.v_terminal_v));
    }
    html += u"</table>"_s;
    const SenseResult& r = *m_view.sense;
    const auto line = [&](const QString& name, Verdict verdict) {
        return u"<b style='color:%1'>%2</b> %3"_s.arg(c.verdict(verdict).name(), verdictWord(verdict), name);
    };
    return html + u"<p>%1 · %2 · %3 · %4 · %5</p><p>%6</p>"_s.arg(
                      line(tr("sense range"), r.range_verdict), line(tr("ceiling"), r.ceiling_verdict),
                      line(tr("trip"), r.ovp_verdict), line(tr("power"), r.power_verdict),
                      line(tr("loop with the load's capacitor"), r.loop_verdict),
                      tr("Power leads first, at both ends; then the twisted pair, positive to positive; the "
                         "links at "
                         "the terminals come off last. The other way about when it is taken down."));
}

QString WirePage::mergeHtml() const
{
    if (!m_view.merge)
        return tr("Enter length and size of the run and what the load draws.");
    const MergeInput& in = *m_view.merge_input;
    const MergeResult& r = *m_view.merge;
    const Colours& c = m_look.colours();
    const QString size = qs(formatValue(in.area_m2, Quantity::WireSize));
    QString html = u"<p><b style='color:%1'>%2</b> <b>%3</b></p>"_s.arg(
        c.verdict(r.verdict).name(), verdictWord(r.verdict),
        tr("%1 conductors of %2 each way for %3").arg(in.conductors).arg(size, amps(in.current_a)));
    html += u"<p>%1<br>%2<br>%3</p>"_s.arg(
        tr("Each carries %1; the one with the best joints up to %2.").arg(amps(r.each_a), amps(r.most_a)),
        tr("The bundle warms by about %1 K, to %2 in a room of 25 °C.")
            .arg(qs(significant(r.rise_k, 2)), qs(formatValue(r.conductor_k, Quantity::Temperature))),
        tr("Lost: %1 for each metre of bundle; one way %2.")
            .arg(qs(formatValue(r.loss_w_per_m, Quantity::Power)), qs(formatOhms(r.r_way_ohm))));
    html += m_view.merge_needed
                ? u"<p>%1</p>"_s.arg(tr("<b>%1 of this size</b> stay cool.").arg(*m_view.merge_needed))
                : u"<p>%1</p>"_s.arg(tr("Not even twenty of this size stay cool: take a thicker wire."));
    return html +
           u"<p style='color:%1'>%2</p>"_s.arg(
               c.softInk.name(),
               tr("A guide, ±30 %: a bundle in still air giving off 10 W/(m²·K), joints of 2 mΩ that differ "
                  "by half. Wound up, in a wall or under a carpet it gets far hotter: there the local tables "
                  "rule. Merge wires of one length, one size and one source; crimp all of them in one "
                  "sleeve, and never fuse them above the rating of a single one."));
}

QString WirePage::sizeText(int row) const
{
    const WireOption& o = m_view.sizes.at(static_cast<std::size_t>(row));
    return tr("%1: drop %2, lost %3")
        .arg(qs(o.name), o.result.drop_v ? volts(*o.result.drop_v) : tr("no operating point"),
             o.result.loss_w ? qs(formatValue(*o.result.loss_w, Quantity::Power)) : u"–"_s);
}

void WirePage::paintSize(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const WireOption& o = m_view.sizes.at(static_cast<std::size_t>(row));
    paintVerdict(painter, o.verdict, {box.left() + m_look.px(7), box.center().y()}, m_look.px(12), c);
    // The conductor's section, as large as it is beside the others.
    constexpr double largestM2 = 120e-6;
    const double r = std::max(1.5, m_look.px(12) * std::sqrt(o.wire.area_m2 / largestM2));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.loss);
    painter.drawEllipse(QPointF(box.left() + m_look.px(32), box.center().y()), r, r);
    paintText(painter, QRectF(box.left() + m_look.px(50), box.top(), box.width() * 0.4, box.height()),
              qs(formatValue(o.wire.area_m2, Quantity::WireSize)), m_look.font(14, true), c.ink);
    const QString figures =
        !o.result.drop_v
            ? tr("no operating point")
            : tr("%1 · %2").arg(volts(*o.result.drop_v), qs(formatValue(*o.result.loss_w, Quantity::Power)));
    paintText(painter, box, figures, m_look.font(13), c.planned, Qt::AlignRight | Qt::AlignVCenter);
}

} // namespace offshoot::ui
