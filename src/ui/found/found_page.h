// Found: what the supply is. The station selected on the power path is edited here, the divider is entered by
// values, colour bands or chip codes, and the steps up to the before-readings are led.
#pragma once

#include "ui/look.h"
#include "ui/procedure/procedure_view.h"
#include "ui/session.h"

#include <QAbstractButton>
#include <QWidget>

class QLabel;
class QStackedWidget;
class QVBoxLayout;

namespace offshoot::ui {

class WalkCourse;
class WalkPage;

/// A leg typed in as a value, bands or code; a small picture of the part follows the typing.
class LegEntry : public QWidget
{
    Q_OBJECT

public:
    LegEntry(bool top, JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void understand(const QString& text);
    void commit();
    void show();

    bool m_top;
    JobSession& m_session;
    QLineEdit* m_line;
    QLabel* m_says;
    class PartPicture* m_picture;
};

/// In the order of the tabs.
enum class FoundTab { Identity, Walk, Parts, Rails, Units, Photos, Steps };

class FoundPage : public QWidget
{
    Q_OBJECT

public:
    FoundPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    ProcedureView& steps() { return *m_steps; }
    void showTab(FoundTab tab);
    FoundTab tab() const;
    WalkCourse& walk();
    /// What the handbook calls the tab that is shown.
    QString topic() const;

private:
    QWidget* parts();
    QWidget* dividerCard();
    std::vector<Station> shownStations() const;
    void showStation();
    const Supply& shownUnit() const;
    void inferLeg(bool top);

    JobSession& m_session;
    Look& m_look;
    QStackedWidget* m_stack;
    WalkPage* m_walk;
    std::vector<QAbstractButton*> m_tabs;
    ProcedureView* m_steps;
    QVBoxLayout* m_station = nullptr;
    QWidget* m_stationCard = nullptr;
    QWidget* m_dividerCard = nullptr;
    std::size_t m_unit = 0; ///< whose parts are shown
    std::size_t m_shownUnits = 1;
    Topology m_shownTopology = Topology::Flyback;
};

} // namespace offshoot::ui
