#include "ui/rectifier/rectifier_page.h"

#include "core/values/format.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/option_list.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/tabs.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/figures.h"
#include "ui/plan/wiring_tab.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

RectifierPage::RectifierPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_ribbon(new RibbonPicture(look))
    , m_waves(new WavePicture(look))
    , m_form(new PartForm(session, look,
                          [this](const QString& what, const auto& change) { return edit(what, change); }))
    , m_problem(new Paragraph)
    , m_stop(new QPushButton(tr("Stop")))
    , m_bars(new LimitBars(look))
    , m_figures(richText())
    , m_dropper(new DropperTab(session, look))
{
    body().addWidget(pictureSide(), 2);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* stack = new QStackedWidget;
    QWidget* start = startSide();
    body().addWidget(start, 1);
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Part"), tr("In time"), tr("Figures"), tr("Dropper"), tr("Wiring")},
            [stack](int index) { stack->setCurrentIndex(index); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(partTab());
    stack->addWidget(m_waves);
    stack->addWidget(figuresTab());
    stack->addWidget(m_dropper);
    stack->addWidget(new WiringTab("chain", m_session, m_look));
    column->addWidget(stack, 1);
    body().addWidget(right, 1);
    // Before there is a chain one is begun.
    const auto show = [this, start, right] {
        const bool any = plannedChain(m_session.job()) != nullptr;
        start->setVisible(!any);
        right->setVisible(any);
    };
    connect(&session, &JobSession::changed, right, show);
    show();
    offer(m_dropper->options(), tr("dropping resistor"),
          [this](Job& job, int row) { m_dropper->apply(job, row); });
    followRibbon();
    connect(m_stop, &QPushButton::clicked, &session, &JobSession::stopSimulation);
    connect(&session, &JobSession::simulated, this, [this](double share) {
        m_share = share;
        showRibbon();
    });
    connect(&m_runBefore, &RectifierRun::done, this, [this](const ChainRun& run) {
        m_before = run.result;
        refresh();
    });
    connect(&m_runSpread, &RectifierRun::spread, this, [this](const ChainSpread& spread) {
        m_spread = spread;
        m_spreadOf = m_spreadFrom; // of outdated runs nothing comes in
        showRibbon();
    });
    RectifierPage::follow();
}

QWidget* RectifierPage::pictureSide()
{
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(m_look.px(3));
    m_problem->setProperty("role", u"problem"_s);
    m_problem->hide();
    column->addWidget(m_ribbon, 1);
    column->addWidget(m_problem);
    return side;
}

void RectifierPage::choose(int part)
{
    m_ribbon->choose(part);
    m_problem->hide(); // what was refused was elsewhere
    m_form->show(m_ribbon->chosen(), m_shown ? &*m_shown : nullptr);
    m_dropper->follow(chosenSection());
    showWaves();
}

void RectifierPage::followRibbon()
{
    connect(m_ribbon, &RibbonPicture::chose, this, &RectifierPage::choose);
    connect(m_ribbon, &RibbonPicture::putIn, this, [this](int section, SmoothingKind kind) {
        if (edit(tr("put a part in"), [section, kind](RectifierChain& chain) {
                chain.insertSection(static_cast<std::size_t>(section), usualSection(kind));
            }))
            choose(section + firstSection);
    });
    connect(m_ribbon, &RibbonPicture::takenOut, this, [this](int section) {
        edit(tr("take a part out"),
             [section](RectifierChain& chain) { chain.eraseSection(static_cast<std::size_t>(section)); });
    });
    connect(m_ribbon, &RibbonPicture::moved, this, [this](int from, int to) {
        if (edit(tr("move a part"), [from, to](RectifierChain& chain) {
                moveSection(chain, static_cast<std::size_t>(from), static_cast<std::size_t>(to));
            }))
            choose((to > from ? to - 1 : to) + firstSection);
    });
    connect(m_ribbon, &RibbonPicture::stepped, this, [this](int section, bool up) {
        edit(tr("another value"), [section, up](RectifierChain& chain) {
            SmoothingSection& s = chain.filter[static_cast<std::size_t>(section)];
            constexpr double next = 1.1; // E24 is about that far apart
            s = scaledSection(s, up ? next : 1 / next);
        });
    });
    connect(m_ribbon, &RibbonPicture::scaled, this, [this](int section, double share, bool done) {
        const RectifierChain* planned = plannedChain(m_session.edited());
        if (planned == nullptr)
            return;
        RectifierChain chain = *planned;
        SmoothingSection& s = chain.filter[static_cast<std::size_t>(section)];
        s = scaledSection(s, share);
        const auto put = [&chain](Job& job) { job.plan.chain = chain; };
        if (!done)
            return m_session.preview(put);
        m_session.clearPreview();
        m_session.edit(tr("another value"), put);
    });
}

std::optional<std::size_t> RectifierPage::chosenSection() const
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const int at = m_ribbon->chosen() - firstSection;
    const bool is = chain != nullptr && at >= 0 && at < static_cast<int>(chain->filter.size());
    return is ? std::optional(static_cast<std::size_t>(at)) : std::nullopt;
}

QWidget* RectifierPage::partTab()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    auto* insideLayout = new QVBoxLayout(inside);
    insideLayout->setContentsMargins(0, 0, m_look.px(4), 0);
    insideLayout->addWidget(m_form);
    insideLayout->addStretch();
    column->addWidget(scrolling(inside), 1);
    column->addWidget(tools());
    return box;
}

QWidget* RectifierPage::figuresTab()
{
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, m_look.px(4), 0);
    column->addWidget(m_bars);
    column->addWidget(m_figures);
    column->addStretch();
    return scrolling(inside);
}

QWidget* RectifierPage::startSide()
{
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(caption(tr("What rectifies here? A chain begins with the usual parts behind it; each "
                                 "is then changed to what stands there.")));
    for (const SimRectifier kind :
         {SimRectifier::Bridge, SimRectifier::FullWaveCt, SimRectifier::Half, SimRectifier::Doubler}) {
        auto* button = new QPushButton(
            tr("New %1").arg(rectifierNames().at(static_cast<int>(kind)).section(u',', 0, 0)));
        column->addWidget(button, 0, Qt::AlignLeft);
        connect(button, &QPushButton::clicked, this, [this, kind] { startChain(kind); });
    }
    column->addStretch();
    return side;
}

QWidget* RectifierPage::tools()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(3));
    row->addWidget(m_stop);
    const auto button = [this, row](const QString& text, const std::function<void()>& pressed) {
        auto* made = new QPushButton(text);
        row->addWidget(made);
        connect(made, &QPushButton::clicked, this, pressed);
    };
    button(tr("It stands so now"), [this] {
        m_session.edit(tr("chain as found"), [](Job& job) {
            if (!job.plan.chain)
                return;
            job.found.mains_side.chain = std::move(job.plan.chain);
            job.plan.chain.reset();
        });
    });
    button(tr("Back to as found"),
           [this] { m_session.edit(tr("back to as found"), [](Job& job) { job.plan.chain.reset(); }); });
    return box;
}

void RectifierPage::startChain(SimRectifier kind)
{
    m_session.edit(tr("new chain"), [kind](Job& job) { job.plan.chain = usualChain(kind, job); });
}

bool RectifierPage::edit(const QString& what, const std::function<void(RectifierChain&)>& change)
{
    const RectifierChain* planned = plannedChain(m_session.job());
    if (planned == nullptr)
        return false;
    RectifierChain chain = *planned;
    change(chain);
    m_problem->setText(problemOf(chain));
    m_problem->setVisible(!m_problem->text().isEmpty());
    if (!m_problem->text().isEmpty())
        return false;
    m_session.edit(what, [&chain](Job& job) { job.plan.chain = chain; });
    return true;
}

/// The chain as found is simulated too, to stand behind the planned one.
void RectifierPage::compare()
{
    const Job& job = m_session.job();
    const auto& found = job.found.mains_side.chain;
    if (!found || !job.plan.chain || *found == *job.plan.chain) {
        m_before.reset();
        m_shownBefore.reset();
    } else if (m_shownBefore != found) {
        m_shownBefore = found;
        RectifierInput input = *chainInput(job);
        input.chain = *found;
        m_runBefore.start(input);
    }
}

void RectifierPage::refresh()
{
    const RectifierChain* chain = plannedChain(m_session.job());
    compare();
    if (const ChainRun* run = m_session.chainRun())
        m_shown = *run;
    else if (chain == nullptr || !m_session.chainProblem().isEmpty())
        m_shown.reset();
    m_stop->setEnabled(m_session.simulating());
    setSentence(chain == nullptr ? tr("Rectifier and smoothing: start with a chain, as it stands now.")
                : !m_session.chainProblem().isEmpty() ? m_session.chainProblem()
                : m_session.chainRun() != nullptr     ? qs(rectifierSentence(*m_shown))
                                                      : tr("Simulating…"));
    m_share = 0;
    if (chain == nullptr) {
        m_spreadFrom.reset();
        m_runSpread.cancel();
    } else if (m_spreadFrom != *chain) {
        m_spreadFrom = *chain;
        if (m_spreadOf == *chain) // back as it was
            m_runSpread.cancel();
        else
            m_runSpread.start(*chain);
    }
    showRibbon();
    m_form->show(m_ribbon->chosen(), m_shown ? &*m_shown : nullptr);
    m_dropper->follow(chosenSection());
    showWaves();
    auto limits = chainRows(m_session.job(), m_session.chainRun());
    std::erase_if(limits, [](const ConsequenceRow& row) { return row.id == RowId::ChainOutput; });
    countAndSort(limits);
    m_bars->show(std::move(limits));
    m_figures->setText(figuresHtml());
}

/// What came in last stays until what follows comes in, so that a dragged value does not flicker.
void RectifierPage::showRibbon()
{
    const Job& job = m_session.job();
    const RectifierChain* chain = plannedChain(job);
    ChainRibbon ribbon = chainRibbon(job, m_session.chainRun());
    if (m_session.chainRun() == nullptr && m_session.simulating())
        for (ChainPart& part : ribbon.parts) {
            const auto last = std::ranges::find_if(m_ribbonShown.parts, [&part](const ChainPart& before) {
                return before.part == part.part && before.thing == part.thing;
            });
            if (last != m_ribbonShown.parts.end()) {
                part.limit = last->limit;
                part.flow = last->flow;
            }
        }
    m_ribbonShown = ribbon;
    RibbonShown shown{.ribbon = std::move(ribbon), .running = m_session.simulating() ? m_share : -1};
    if (chain == nullptr)
        return m_ribbon->show(std::move(shown));
    shown.reading = tr("V, trough to crest; pale: %1").arg(qs(toleranceText(*chain)));
    if (m_shown && m_shown->result.places.size() == shown.ribbon.places)
        shown.places = m_shown->result.places;
    if (m_before)
        shown.before = m_before->places;
    if (m_spread && (m_spreadOf == *chain || m_spread->places.size() == shown.ribbon.places)) {
        shown.spread = m_spread->places;
        shown.corners = qs(spreadSentence(*m_spreadOf, *m_spread));
    } else {
        shown.corners = tr("At the ends of the tolerances: working it out…");
    }
    m_ribbon->show(std::move(shown));
}

/// As found beside as planned where the same kind of part stands there.
void RectifierPage::showWaves()
{
    const auto at = static_cast<std::size_t>(m_ribbon->chosen());
    if (!m_shown || at >= m_ribbonShown.parts.size())
        return m_waves->show(nullptr, nullptr, {}, {});
    const ChainPart& part = m_ribbonShown.parts[at];
    bool alike = m_before.has_value();
    if (const auto section = chosenSection(); alike && section) {
        const auto& found = m_shownBefore->filter;
        alike = *section < found.size() &&
                found[*section].kind == plannedChain(m_session.job())->filter[*section].kind;
    }
    m_waves->show(&m_shown->result, alike ? &*m_before : nullptr, part.part, qs(part.name));
}

QString RectifierPage::figuresHtml() const
{
    if (!m_shown)
        return {};
    const SteadyResult& r = m_shown->result;
    QString html = u"<table cellspacing='0' cellpadding='2'>"_s;
    const auto row = [&](const QString& name, const QString& value) {
        html += u"<tr><td>%1</td><td><b>%2</b></td></tr>"_s.arg(name, value);
    };
    const auto name = [this](const std::string& part) {
        return qs(chainPartName(m_shown->input.chain, part));
    };
    row(tr("load"),
        tr("%1, %2 p-p")
            .arg(volts(r.load.v.v_mean_v), qs(formatValue(r.load.v.ripple_pp_v, Quantity::Voltage))));
    row(tr("without load"), volts(r.no_load_v));
    const SimDiodeFigures& d = r.diodes.front();
    row(tr("each path"), tr("%1 peak, %2 mean, %3 reverse")
                             .arg(amps(d.i_peak_a), amps(d.i_mean_a), volts(d.v_reverse_peak_v)));
    row(tr("secondary"), tr("%1 rms, %2 VA").arg(amps(r.source.i_rms_a), qs(significant(r.source.va, 3))));
    for (const SimNode& node : r.nodes)
        row(name(node.section),
            tr("%1, ripple current %2").arg(volts(node.v.v_mean_v), amps(node.capacitor_i_rms_a)));
    for (const SimSeries& s : r.series)
        row(name(std::to_string(s.section)),
            tr("%1 mean, %2").arg(amps(s.i_mean_a), qs(formatValue(s.power_w, Quantity::Power))));
    return html + u"</table>"_s;
}

} // namespace offshoot::ui
