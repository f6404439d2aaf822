#include "ui/parallel/parallel_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/parallel/share_picture.h"
#include "ui/plan/wiring_tab.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr int buildsTab = 3;

QString percent(double share) { return qs(formatPercent(share)); }

QString ballastName(const BallastOption& option)
{
    return option.lead ? ParallelPage::tr("%1 more of %2")
                             .arg(qs(formatValue(option.lead->length_m, Quantity::Length, 2)),
                                  qs(formatValue(option.lead->area_m2, Quantity::WireSize)))
                       : qs(option.network.prettyText());
}

} // namespace

ParallelPage::ParallelPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new SharePicture(look))
    , m_ruler(new SetPointRuler(look))
    , m_ballasts(new OptionList(
          tr("Ballast, from the drawer or by longer leads"), look, 30,
          [this](QPainter& painter, const QRectF& box, int row) { paintBallast(painter, box, row); },
          [this](int row) { return ballastText(row); }))
    , m_stack(new QStackedWidget)
    , m_schools(richText())
    , m_failures(richText())
    , m_builds(richText())
    , m_plan(new QPushButton)
{
    auto* left = new QVBoxLayout;
    left->setSpacing(0);
    left->addWidget(m_picture, 1);
    left->addWidget(m_ruler);
    left->addWidget(caption(tr("drag the load or ← → · drag a set point · Enter keeps it")));
    body().addLayout(left, 3);
    body().addWidget(side(), 2);
    connect(m_picture, &SharePicture::loadDragged, this, [this](double a) { setLoad(a, false); });
    connect(m_picture, &SharePicture::loadReleased, this, [this](double a) { setLoad(a, true); });
    connect(m_ruler, &SetPointRuler::dragged, this,
            [this](std::size_t unit, double v) { setPoint(unit, v, false); });
    connect(m_ruler, &SetPointRuler::released, this,
            [this](std::size_t unit, double v) { setPoint(unit, v, true); });
    offer(*m_ballasts, tr("ballast"), [this](Job& job, int row) {
        const BallastOption& option = m_view.ballasts.at(static_cast<std::size_t>(row));
        if (!job.plan.join)
            job.plan.join.emplace();
        job.plan.join->kind = Joining::SideBySide;
        job.plan.join->ballast = option.network;
        job.plan.join->ballast_power_w = option.part_power_w;
        job.plan.join->ballast_lead = option.lead;
    });
    follow();
}

QWidget* ParallelPage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Ways"), tr("Ballast"), tr("One fails"), tr("Builds"), tr("Wiring")},
            [this](int index) {
                m_stack->setCurrentIndex(index);
                drawBuilds();
            });
    head->addStretch();
    layout->addLayout(head);
    auto* ways = new QWidget;
    auto* waysLayout = new QVBoxLayout(ways);
    waysLayout->setContentsMargins(0, 0, 0, 0);
    waysLayout->addWidget(scrolling(m_schools), 1);
    auto* buttons = new QHBoxLayout;
    auto* diodes = new QPushButton(tr("Diodes in or out"));
    buttons->addWidget(m_plan);
    buttons->addWidget(diodes);
    buttons->addStretch();
    waysLayout->addLayout(buttons);
    connect(m_plan, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("join side by side"), [](Job& job) {
            if (job.plan.join && job.plan.join->kind == Joining::SideBySide)
                job.plan.join.reset();
            else
                job.plan.join = JoinPlan{.kind = Joining::SideBySide};
        });
    });
    connect(diodes, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("diodes"), [this](Job& job) {
            if (!job.plan.join)
                job.plan.join.emplace();
            auto& diode = job.plan.join->diode;
            const auto with = std::ranges::find_if(m_view.ways, [](const ShareWay& way) {
                return !way.input.units.empty() && way.input.units.front().diode;
            });
            diode = diode || with == m_view.ways.end() ? std::nullopt : with->input.units.front().diode;
        });
    });
    m_stack->addWidget(ways);
    auto* ballast = new QWidget;
    auto* ballastLayout = new QVBoxLayout(ballast);
    ballastLayout->setContentsMargins(0, 0, 0, 0);
    ballastLayout->addWidget(m_ballasts, 1);
    ballastLayout->addWidget(
        caption(tr("In each lead, for a tenth of imbalance · ↑ ↓ look · Enter plan it · rated for the unit "
                   "that is set highest · in free air, it burns")));
    m_stack->addWidget(ballast);
    m_stack->addWidget(scrolling(m_failures));
    m_stack->addWidget(scrolling(m_builds));
    m_stack->addWidget(new WiringTab("bus", m_session, m_look));
    layout->addWidget(m_stack, 1);
    return box;
}

void ParallelPage::refresh()
{
    m_view = parallelView(m_session.job(), m_session.evaluation());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view, m_session.job().need.current_a.value_or(0));
    m_ruler->show(m_view);
    m_ballasts->setCount(static_cast<int>(m_view.ballasts.size()));
    const auto& join = m_session.job().plan.join;
    for (std::size_t i = 0; join && join->ballast && i < m_view.ballasts.size(); ++i)
        if (m_view.ballasts[i].network == *join->ballast && m_view.ballasts[i].lead == join->ballast_lead)
            m_ballasts->follow(static_cast<int>(i));
    const bool planned = join && join->kind == Joining::SideBySide;
    m_plan->setText(planned ? tr("Do not join them") : tr("Plan: side by side"));
    m_plan->setEnabled(m_view.result.has_value());
    QString html = schoolsHtml({m_view.school}, m_look.colours());
    for (const std::string& assumed : m_view.model.assumed)
        html += u"<span style='color:%1'>%2</span><br>"_s.arg(
            m_look.colours().softInk.name(), tr("assumed, %1").arg(qs(assumed).toHtmlEscaped()));
    m_schools->setText(html);
    m_failures->setText(failures());
    drawBuilds();
}

/// What is left when each unit in turn drops out.
QString ParallelPage::failures() const
{
    if (!m_view.result)
        return {};
    const Colours& c = m_look.colours();
    QString html;
    for (const BusWithout& without : m_view.result->without) {
        const BusState& bus = without.bus;
        const bool good = bus.served && bus.trips.empty();
        html += u"<p><b style='color:%1'>%2</b> <b>%3</b><br>"_s.arg(
            (good ? c.fits : c.breaks).name(), good ? u"●"_s : u"▼"_s,
            tr("without %1").arg(qs(without.removed).toHtmlEscaped()));
        html += good                ? tr("the bus stays at %1").arg(qs(formatVolts(bus.v_bus_v)))
                : bus.trips.empty() ? tr("the rest cannot carry the load: %1 at most").arg(amps(bus.total_a))
                                    : tr("%1 trips next").arg(qs(bus.trips.front()).toHtmlEscaped());
        for (const UnitShare& unit : bus.units)
            html += u"<br>&nbsp;&nbsp;%1 %2%3"_s.arg(
                qs(unit.name).toHtmlEscaped(), amps(unit.current_a),
                unit.use ? tr(", %1 of its limit").arg(percent(*unit.use)) : QString());
        html += u"</p>"_s;
    }
    for (const UnitShare& unit : m_view.result->bus.units)
        if (unit.held_up_v > 0)
            html += u"<p style='color:%1'>%2</p>"_s.arg(
                c.softInk.name(), tr("%1 is held %2 above its own set point: it may look dead, or latch off.")
                                      .arg(qs(unit.name).toHtmlEscaped(), qs(formatVolts(unit.held_up_v))));
    return html;
}

/// On a worker, and only while somebody looks at them.
void ParallelPage::drawBuilds()
{
    m_drawing.cancel();
    m_builds->setText({});
    const auto& bus = m_view.model.input;
    if (!bus || m_stack->currentIndex() != buildsTab)
        return;
    m_drawing.start([this, job = m_session.job(), bus = *bus](const Background::Wanted&) {
        return [this, units = bus.units.size(), builds = shareBuilds(job, bus)] {
            m_builds->setText(buildsText(builds, units));
        };
    });
}

/// What share a builder gets: many builds drawn at random.
QString ParallelPage::buildsText(const ShareBuilds& builds, std::size_t units) const
{
    const auto lines = [](const ShareSpreadResult& r) {
        return tr("the unit that carries most has %1 (half of all builds), %2 to %3 in nine of ten; in %4 no "
                  "unit "
                  "reaches its limit")
            .arg(percent(r.highest_share_middle), percent(r.highest_share_low), percent(r.highest_share_high),
                 percent(r.within_limits));
    };
    QString html =
        u"<p>%1</p>"_s.arg(tr("Even sharing would be %1.").arg(percent(1 / static_cast<double>(units))));
    html += u"<p><b>%1</b><br>%2.</p>"_s.arg(
        tr("Before trimming, set points within ±%1").arg(qs(formatVolts(builds.before_spread_v))),
        lines(builds.before_trimming));
    html += u"<p><b>%1</b><br>%2.</p>"_s.arg(tr("After trimming them as near as the meter tells apart"),
                                             lines(builds.after_trimming));
    return html + u"<p style='color:%1'>%2</p>"_s.arg(
                      m_look.colours().softInk.name(),
                      tr("2000 builds drawn at random; ±1 % of untrimmed set points and ±10 % of leads are "
                         "assumed."));
}

QString ParallelPage::ballastText(int row) const
{
    const BallastOption& o = m_view.ballasts.at(static_cast<std::size_t>(row));
    return tr("%1: imbalance %2, each part %3, together %4")
        .arg(ballastName(o), percent(o.result.imbalance), qs(formatValue(o.power_each_w, Quantity::Power)),
             qs(formatValue(o.result.loss_total_w, Quantity::Power)));
}

void ParallelPage::paintBallast(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const BallastOption& o = m_view.ballasts.at(static_cast<std::size_t>(row));
    paintVerdict(painter, o.verdict, {box.left() + m_look.px(7), box.center().y()}, m_look.px(12), c);
    paintText(painter, QRectF(box.left() + m_look.px(22), box.top(), box.width() * 0.42, box.height()),
              ballastName(o), m_look.font(14, true), c.ink);
    paintText(painter, box,
              tr("±%1 · %2 each")
                  .arg(percent(o.result.imbalance), qs(formatValue(o.power_each_w, Quantity::Power))),
              m_look.font(13), c.planned, Qt::AlignRight | Qt::AlignVCenter);
}

void ParallelPage::setLoad(double amperes, bool keep)
{
    const auto change = [amperes](Job& job) { job.need.current_a = amperes; };
    if (keep)
        m_session.edit(tr("load %1").arg(amps(amperes)), change);
    else
        m_session.preview(change);
}

void ParallelPage::setPoint(std::size_t unit, double volts, bool keep)
{
    const auto change = [unit, volts](Job& job) {
        if (!job.plan.join)
            job.plan.join.emplace();
        auto& settings = job.plan.join->settings;
        std::erase_if(settings,
                      [unit](const UnitSetting& s) { return static_cast<std::size_t>(s.unit) == unit; });
        settings.push_back({.unit = static_cast<std::int64_t>(unit), .v_set_v = volts});
        std::ranges::sort(settings, {}, &UnitSetting::unit);
    };
    if (keep)
        m_session.edit(tr("set point %1").arg(qs(formatVolts(volts))), change);
    else
        m_session.preview(change);
}

} // namespace offshoot::ui
