// Plan: one workspace for each kind of change, chosen at its head. A new kind is one line in the table of
// plan_page.cpp.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <vector>

class QAbstractButton;
class QStackedWidget;

namespace offshoot::ui {

/// The kinds of change there is a workspace for, in the order of its tabs.
enum class PlanKind {
    Ways,
    Retune,
    Trim,
    Load,
    Rewind,
    Limit,
    Hiccup,
    Parallel,
    Stack,
    Wire,
    Evidence,
    Windings,
    Inrush,
    Safe,
    Rectifier,
    Noise,
    Choose,
    Fit,
    Panel,
    Wires,
    Module,
    Rehouse
};
/// Kinds that are chosen among together.
enum class PlanGroup { Ways, Output, Together, Mains, Replace };

class PlanPage : public QWidget
{
    Q_OBJECT

public:
    PlanPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// In the order of the tabs.
    static std::vector<PlanKind> everyKind();
    void show(PlanKind kind);
    PlanKind kind() const { return m_kind; }
    /// What the handbook calls the page that is shown.
    QString topic() const;

private:
    JobSession& m_session;
    Look& m_look;
    void showGroup(PlanGroup group);
    void markPlanned();

    std::vector<QAbstractButton*> m_groups;
    QStackedWidget* m_stack;
    std::vector<QAbstractButton*> m_tabs;
    std::vector<QWidget*> m_pages; ///< made when first shown
    PlanKind m_kind;
};

} // namespace offshoot::ui
