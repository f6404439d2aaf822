// One window, one job: header, power path, stages, workspace, consequences, log line.
#pragma once

#include "bench/meters.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QMainWindow>
#include <QPointer>
#include <functional>
#include <memory>

class QAbstractButton;
class QLabel;
class QStackedWidget;

namespace offshoot::ui {

class BenchMode;
class BoardPage;
class CaptureIntake;
class ConsequencesPanel;
class FirstNotes;
class FoundPage;
class Handbook;
class ReadoutsPage;
class RecordingPage;
class RecordingRun;
class Rehearsal;
class HeaderBar;
class LogBar;
class NeedPage;
class PowerPath;
class ProcedureView;
class PlanPage;
class SignOffPage;
class StageRail;
class WindowEdge;

class MainWindow : public QMainWindow
{
    Q_OBJECT

public:
    MainWindow(JobStore store, std::function<double()> now_s, LookSetting look = {},
               QWidget* parent = nullptr);
    ~MainWindow() override;

    JobSession& session() { return *m_session; }
    Look& look() { return *m_look; }
    void showStage(Stage stage);
    Stage stage() const { return m_stage; }
    /// What the handbook calls what is in front.
    QString topic() const;
    void setBench(bool on);
    bench::MeterLink& meter() { return m_meters.link(0); }
    bench::Meters& meters() { return m_meters; }
    FoundPage& foundPage();
    PlanPage& planPage();
    SignOffPage& signOffPage();
    CaptureIntake& captures() { return *m_captures; }
    /// Brings the captures to the front, in the stage at hand or in Bring-up.
    void showCaptures();
    /// The steps of Bring-up, behind its other pages.
    void showSteps();
    ReadoutsPage& showReadouts();
    /// A reading over time.
    void showRecording();
    RecordingRun& recording() { return *m_recording; }
    /// The board of the batch.
    BoardPage& showBoard();

    /// Opens another window in the look of the one that asks; null (after saying why) when the file cannot be
    /// opened.
    static MainWindow* openWindow(const QString& path, const std::function<double()>& now_s,
                                  MainWindow* asking);
    /// A window with an empty job.
    static MainWindow* newWindow(const std::function<double()>& now_s, LookSetting look = {});

    /// Writes a report or label without asking; used by the actions and the tests. False after saying why
    /// not.
    bool exportTo(const QString& kind, const QString& path);
    /// Attaches a meter, the first or the second, at an address as people write it; false after saying what
    /// is wrong with it.
    bool attachMeter(const QString& address, std::size_t which = 0);
    bool importDrawer(const QString& path);
    bool importReadings(const QString& path);
    const QList<QAction*>& everyAction() const { return m_actions; }
    /// Says something in the message strip.
    void tell(const QString& text) { say(text); }
    /// The last thing that was said to the person in the message strip.
    QString message() const;

protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void buildLayout();
    void buildActions();
    void buildStageActions();
    void buildFileActions();
    void buildViewActions();
    void buildMeterActions();
    void askMeter(std::size_t which);
    QAction* action(const QString& text, const QKeySequence& key, std::function<void()> run);
    void say(const QString& text);
    void dress();
    void fitFrame();
    void refreshFrame();
    bool saveAs();
    void exportAsking(const QString& kind);
    void nextUnit();
    /// Opens a copy of the job on its simulated unit; one at a time.
    void rehearse();
    void beginLog(const QString& text);
    QWidget& pageOf(Stage stage);
    QWidget* changePage();
    QWidget* bringUpPage();
    QWidget* signOffStage();
    /// A page of steps under its title, with others beside them.
    QWidget* stepsPage(const QString& title, ProcedureView& steps, const QStringList& names,
                       const std::vector<QWidget*>& others, std::vector<QAbstractButton*>& tabs);
    /// A file of the oscilloscope, to be looked at before it is logged.
    void takeCapture(const QString& path);
    void askCapture();

    std::function<double()> m_nowS;
    std::unique_ptr<Look> m_look;
    std::unique_ptr<JobSession> m_session;
    std::unique_ptr<CaptureIntake> m_captures;
    bench::Meters m_meters;
    std::unique_ptr<RecordingRun> m_recording;
    std::array<QString, bench::Meters::count> m_meterAddresses;
    WindowEdge* m_frame = nullptr;
    HeaderBar* m_header = nullptr;
    PowerPath* m_path = nullptr;
    StageRail* m_rail = nullptr;
    QStackedWidget* m_pages = nullptr;
    ConsequencesPanel* m_consequences = nullptr;
    LogBar* m_log = nullptr;
    QLabel* m_message = nullptr;
    std::array<QWidget*, Words<Stage>::list.size()> m_stages{}; ///< their pages, once each was wanted
    FoundPage* m_found = nullptr;
    PlanPage* m_plan = nullptr;
    std::vector<QAbstractButton*> m_changeTabs; ///< steps, board
    BoardPage* m_board = nullptr;
    std::vector<QAbstractButton*> m_bringUpTabs; ///< steps, captures, over time, readouts
    ReadoutsPage* m_readouts = nullptr;
    SignOffPage* m_signOff = nullptr;
    QWidget* m_bench = nullptr; ///< the steps, or the walk along the board
    Stage m_stage = Stage::Need;
    FirstNotes* m_notes = nullptr;
    Handbook* m_handbook = nullptr;  ///< once it was asked for
    QPointer<Rehearsal> m_rehearsal; ///< while one is open
    QList<QAction*> m_actions;
    bool m_foldedByHand = false;
};

/// Seconds since 1970, from the system clock.
double systemTime();

} // namespace offshoot::ui
