#include "ui/plan/plan_page.h"

#include "core/kinds/modules.h"
#include "ui/choose/choose_page.h"
#include "ui/evidence/evidence_page.h"
#include "ui/fields/page_area.h"
#include "ui/fields/tab_order.h"
#include "ui/fields/tabs.h"
#include "ui/fit/fit_page.h"
#include "ui/hiccup/hiccup_page.h"
#include "ui/inrush/inrush_page.h"
#include "ui/limit/limit_page.h"
#include "ui/load/load_page.h"
#include "ui/module/module_page.h"
#include "ui/noise/noise_page.h"
#include "ui/panel/panel_page.h"
#include "ui/parallel/parallel_page.h"
#include "ui/rectifier/rectifier_page.h"
#include "ui/rehouse/rehouse_page.h"
#include "ui/retune/retune_page.h"
#include "ui/rewind/rewind_page.h"
#include "ui/safe/safe_page.h"
#include "ui/stack/stack_page.h"
#include "ui/trim/trim_page.h"
#include "ui/ways/ways_page.h"
#include "ui/windings/windings_page.h"
#include "ui/wire/wire_page.h"
#include "ui/wires/wires_page.h"

#include <QAbstractButton>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <array>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

template <class Page>
QWidget* make(JobSession& session, Look& look)
{
    return new Page(session, look);
}

struct Workspace
{
    PlanKind kind;
    PlanGroup group;
    const char* name;
    QWidget* (*make)(JobSession&, Look&);
    /// What the plan may hold of it; null where the page only looks.
    const Kind* change = nullptr;
    std::optional<Joining> joining = {}; ///< which way, where units are joined

    bool planned(const Job& job) const
    {
        return change != nullptr && change->planned(job) && (!joining || job.plan.join->kind == *joining);
    }
};

constexpr std::array workspaces{
    Workspace{PlanKind::Ways, PlanGroup::Ways, QT_TRANSLATE_NOOP("PlanPage", "Ways"), make<WaysPage>},
    Workspace{PlanKind::Retune, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Divider"), make<RetunePage>,
              &kind::divider},
    Workspace{PlanKind::Trim, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Trim"), make<TrimPage>,
              &kind::trim},
    Workspace{PlanKind::Load, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Minimum load"),
              make<LoadPage>, &kind::dummy_load},
    Workspace{PlanKind::Rewind, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Rewind"), make<RewindPage>,
              &kind::rewind},
    Workspace{PlanKind::Limit, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Current limit"),
              make<LimitPage>, &kind::current_limit},
    Workspace{PlanKind::Hiccup, PlanGroup::Output, QT_TRANSLATE_NOOP("PlanPage", "Hiccup"), make<HiccupPage>},
    Workspace{PlanKind::Parallel, PlanGroup::Together, QT_TRANSLATE_NOOP("PlanPage", "Side by side"),
              make<ParallelPage>, &kind::joined, Joining::SideBySide},
    Workspace{PlanKind::Stack, PlanGroup::Together, QT_TRANSLATE_NOOP("PlanPage", "Stacked"), make<StackPage>,
              &kind::joined, Joining::Stacked},
    Workspace{PlanKind::Wire, PlanGroup::Together, QT_TRANSLATE_NOOP("PlanPage", "Wire and sense"),
              make<WirePage>, &kind::wire},
    Workspace{PlanKind::Evidence, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Evidence"),
              make<EvidencePage>},
    Workspace{PlanKind::Windings, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Windings"),
              make<WindingsPage>, &kind::windings},
    Workspace{PlanKind::Inrush, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Inrush"), make<InrushPage>,
              &kind::surge_limiter},
    Workspace{PlanKind::Safe, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Lamp, discharge"),
              make<SafePage>},
    Workspace{PlanKind::Rectifier, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Rectifier"),
              make<RectifierPage>, &kind::chain},
    Workspace{PlanKind::Noise, PlanGroup::Mains, QT_TRANSLATE_NOOP("PlanPage", "Noise"), make<NoisePage>},
    Workspace{PlanKind::Choose, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Choose"), make<ChoosePage>,
              &kind::replace},
    Workspace{PlanKind::Fit, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Fit"), make<FitPage>},
    Workspace{PlanKind::Panel, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Panel"), make<PanelPage>,
              &kind::panel},
    Workspace{PlanKind::Wires, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Wires"), make<WiresPage>},
    Workspace{PlanKind::Module, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Module"), make<ModulePage>,
              &kind::module},
    Workspace{PlanKind::Rehouse, PlanGroup::Replace, QT_TRANSLATE_NOOP("PlanPage", "Rehouse"),
              make<RehousePage>, &kind::rehouse},
};
constexpr std::array groups{
    QT_TRANSLATE_NOOP("PlanPage", "Ways"), QT_TRANSLATE_NOOP("PlanPage", "Output side"),
    QT_TRANSLATE_NOOP("PlanPage", "Units and wire"), QT_TRANSLATE_NOOP("PlanPage", "Mains side"),
    QT_TRANSLATE_NOOP("PlanPage", "Replace")};

/// A kind is also the place of its row, of its tab and of its page.
constexpr bool inOrder()
{
    for (std::size_t i = 0; i < workspaces.size(); ++i)
        if (static_cast<std::size_t>(workspaces.at(i).kind) != i)
            return false;
    return true;
}
static_assert(inOrder());

PlanKind firstPlanned(const Job& job)
{
    for (const Workspace& workspace : workspaces)
        if (workspace.planned(job))
            return workspace.kind;
    return PlanKind::Ways;
}

/// Where a way that was planned is worked on; nothing where there is no page for it.
std::optional<PlanKind> workspaceOf(Way way)
{
    switch (way) {
    case Way::Divider:
    case Way::TemporaryTrimmer:
        return PlanKind::Retune;
    case Way::Trim:
        return PlanKind::Trim;
    case Way::DummyLoad:
        return PlanKind::Load;
    case Way::Rewind:
        return PlanKind::Rewind;
    case Way::CurrentLimit:
        return PlanKind::Limit;
    case Way::Wire:
    case Way::Sense:
        return PlanKind::Wire;
    case Way::SideBySide:
        return PlanKind::Parallel;
    case Way::Stacked:
        return PlanKind::Stack;
    case Way::Windings:
        return PlanKind::Windings;
    case Way::ExternalTransformer:
        return PlanKind::Evidence;
    case Way::Rectifier:
        return PlanKind::Rectifier;
    case Way::Limiter:
        return PlanKind::Inrush;
    case Way::Swap:
        return PlanKind::Choose;
    case Way::Module:
        return PlanKind::Module;
    case Way::AsFound:
        break;
    }
    return std::nullopt;
}

} // namespace

std::vector<PlanKind> PlanPage::everyKind()
{
    std::vector<PlanKind> kinds;
    for (const Workspace& workspace : workspaces)
        kinds.push_back(workspace.kind);
    return kinds;
}

PlanPage::PlanPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_stack(new QStackedWidget(this))
    , m_pages(workspaces.size(), nullptr)
    , m_kind(firstPlanned(session.job()))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, look.px(8), 0, 0);
    layout->setSpacing(0);
    auto* above = new QHBoxLayout;
    above->setContentsMargins(look.px(20), 0, look.px(14), look.px(4));
    QStringList all_groups;
    for (const char* group : groups)
        all_groups << QCoreApplication::translate("PlanPage", group);
    m_groups = addTabs(*above, all_groups, [this](int group) { showGroup(static_cast<PlanGroup>(group)); });
    for (QAbstractButton* group : m_groups)
        group->setProperty("role", u"group"_s);
    layout->addLayout(above);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(look.px(20), 0, look.px(14), 0);
    head->setSpacing(look.px(4));
    QStringList names;
    for (const Workspace& workspace : workspaces)
        names << QCoreApplication::translate("PlanPage", workspace.name);
    m_tabs = addTabs(*head, names, [this](int index) { show(static_cast<PlanKind>(index)); });
    for (QAbstractButton* tab : m_tabs)
        tab->setProperty("role", u"kind"_s);
    head->addStretch();
    layout->addLayout(head);
    layout->addWidget(m_stack, 1);
    show(m_kind);
    connect(&session, &JobSession::changed, this, &PlanPage::markPlanned);
    markPlanned();
}

/// The first of the group that is planned, else its first.
void PlanPage::showGroup(PlanGroup group)
{
    const Job& job = m_session.job();
    const Workspace* chosen = nullptr;
    for (const Workspace& workspace : workspaces)
        if (workspace.group == group &&
            (chosen == nullptr || (workspace.planned(job) && !chosen->planned(job))))
            chosen = &workspace;
    if (chosen != nullptr)
        show(chosen->kind);
}

/// What the plan holds is said at its tab and its group, so that nothing planned hides behind another kind.
void PlanPage::markPlanned()
{
    const Job& job = m_session.job();
    std::array<bool, groups.size()> any{};
    for (std::size_t i = 0; i < m_tabs.size(); ++i) {
        const Workspace& workspace = workspaces.at(i);
        const bool planned = workspace.planned(job);
        any.at(static_cast<std::size_t>(workspace.group)) |= planned;
        m_tabs[i]->setText((planned ? u"• "_s : QString()) +
                           QCoreApplication::translate("PlanPage", workspace.name));
    }
    for (std::size_t i = 0; i < groups.size(); ++i)
        m_groups[i]->setText((any.at(i) ? u"• "_s : QString()) +
                             QCoreApplication::translate("PlanPage", groups.at(i)));
}

QString PlanPage::topic() const
{
    return QString::fromUtf8(workspaces.at(static_cast<std::size_t>(m_kind)).name);
}

void PlanPage::show(PlanKind kind)
{
    m_kind = kind;
    const auto at = static_cast<std::size_t>(kind);
    if (m_pages[at] == nullptr) {
        QWidget* page = workspaces.at(at).make(m_session, m_look);
        if (auto* ways = qobject_cast<WaysPage*>(page))
            connect(ways, &WaysPage::planned, this, [this](Way way) {
                if (const auto workspace = workspaceOf(way))
                    show(*workspace);
            });
        m_pages[at] = new PageArea(page);
        m_stack->addWidget(m_pages[at]);
        tabBehind(*m_tabs.back(), *m_pages[at]);
    }
    const PlanGroup group = workspaces.at(at).group;
    m_groups[static_cast<std::size_t>(group)]->setChecked(true);
    for (std::size_t i = 0; i < m_tabs.size(); ++i)
        m_tabs[i]->setVisible(workspaces.at(i).group == group && group != PlanGroup::Ways); // which has one
    m_tabs[at]->setChecked(true);
    m_stack->setCurrentWidget(m_pages[at]);
}

} // namespace offshoot::ui
