#include "ui/plan/plan_page.h"

#include "ui/fields/tabs.h"
#include "ui/hiccup/hiccup_page.h"
#include "ui/limit/limit_page.h"
#include "ui/load/load_page.h"
#include "ui/retune/retune_page.h"
#include "ui/rewind/rewind_page.h"
#include "ui/trim/trim_page.h"

#include <QAbstractButton>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <array>

namespace offshoot::ui {

namespace {

template <class Page>
QWidget* make(JobSession& session, Look& look)
{
    return new Page(session, look);
}

struct Workspace
{
    PlanKind kind;
    const char* name;
    QWidget* (*make)(JobSession&, Look&);
    /// Whether the plan holds a change of this kind.
    bool (*planned)(const Plan&);
};

constexpr std::array workspaces{
    Workspace{PlanKind::Retune, QT_TRANSLATE_NOOP("PlanPage", "Divider"), make<RetunePage>,
              [](const Plan& p) { return p.chosen.has_value(); }},
    Workspace{PlanKind::Trim, QT_TRANSLATE_NOOP("PlanPage", "Trim"), make<TrimPage>,
              [](const Plan& p) { return p.trim.has_value(); }},
    Workspace{PlanKind::Load, QT_TRANSLATE_NOOP("PlanPage", "Minimum load"), make<LoadPage>,
              [](const Plan& p) { return p.dummy_load.has_value(); }},
    Workspace{PlanKind::Rewind, QT_TRANSLATE_NOOP("PlanPage", "Rewind"), make<RewindPage>,
              [](const Plan& p) { return p.rewind.has_value(); }},
    Workspace{PlanKind::Limit, QT_TRANSLATE_NOOP("PlanPage", "Current limit"), make<LimitPage>,
              [](const Plan& p) { return p.shunt.has_value(); }},
    Workspace{PlanKind::Hiccup, QT_TRANSLATE_NOOP("PlanPage", "Hiccup"), make<HiccupPage>,
              [](const Plan&) { return false; }},
};

/// A kind is also the place of its row, of its tab and of its page.
constexpr bool inOrder()
{
    for (std::size_t i = 0; i < workspaces.size(); ++i)
        if (static_cast<std::size_t>(workspaces.at(i).kind) != i)
            return false;
    return true;
}
static_assert(inOrder());

PlanKind firstPlanned(const Plan& plan)
{
    for (const Workspace& workspace : workspaces)
        if (workspace.planned(plan))
            return workspace.kind;
    return PlanKind::Retune;
}

} // namespace

PlanPage::PlanPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_stack(new QStackedWidget(this))
    , m_pages(workspaces.size(), nullptr)
    , m_kind(firstPlanned(session.job().plan))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, look.px(8), 0, 0);
    layout->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(look.px(20), 0, look.px(14), 0);
    head->setSpacing(look.px(4));
    QStringList names;
    for (const Workspace& workspace : workspaces)
        names << QCoreApplication::translate("PlanPage", workspace.name);
    m_tabs = addTabs(*head, names, [this](int index) { show(static_cast<PlanKind>(index)); });
    for (QAbstractButton* tab : m_tabs)
        tab->setProperty("role", QStringLiteral("kind"));
    head->addStretch();
    layout->addLayout(head);
    layout->addWidget(m_stack, 1);
    show(m_kind);
    // What the plan holds is said at its tab, so that nothing planned hides behind another kind.
    const auto markPlanned = [this] {
        for (std::size_t i = 0; i < m_tabs.size(); ++i) {
            const QString name = QCoreApplication::translate("PlanPage", workspaces.at(i).name);
            m_tabs[i]->setText(workspaces.at(i).planned(m_session.job().plan) ? QStringLiteral("• ") + name
                                                                              : name);
        }
    };
    connect(&session, &JobSession::changed, this, markPlanned);
    markPlanned();
}

void PlanPage::show(PlanKind kind)
{
    m_kind = kind;
    const auto at = static_cast<std::size_t>(kind);
    if (m_pages[at] == nullptr) {
        m_pages[at] = workspaces.at(at).make(m_session, m_look);
        m_stack->addWidget(m_pages[at]);
    }
    m_tabs[at]->setChecked(true);
    m_stack->setCurrentWidget(m_pages[at]);
}

} // namespace offshoot::ui
