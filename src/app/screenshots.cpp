#include "app/screenshots.h"

#include "core/evaluate/identity_view.h"
#include "ui/batch/board_page.h"
#include "ui/found/found_page.h"
#include "ui/frame/main_window.h"
#include "ui/plan/plan_page.h"
#include "ui/rectifier/rectifier_page.h"
#include "ui/rehearse/rehearsal.h"
#include "ui/signoff/signoff_page.h"
#include "ui/ways/ways_page.h"

#include <QApplication>
#include <QCursor>
#include <QDeadlineTimer>
#include <QDir>
#include <QFile>
#include <QListView>
#include <QTemporaryDir>
#include <memory>

namespace offshoot::app {

using namespace Qt::StringLiterals;

namespace {

/// A moment after the last entry of a job, so that pictures do not depend on the day.
double momentAfter(const Job& job)
{
    constexpr double minute_s = 60;
    return job.log.empty() ? 0 : job.log.back().time_s + minute_s;
}

class Photographer
{
public:
    explicit Photographer(QString folder)
        : m_folder(std::move(folder))
    {}

    void take(QWidget& window, const QString& name, QSize size = {1280, 800})
    {
        window.resize(size);
        window.show();
        for (int i = 0; i < 3; ++i)
            QApplication::processEvents();
        m_fine = window.grab().save(u"%1/%2.png"_s.arg(m_folder, name)) && m_fine;
    }
    bool fine() const { return m_fine; }

private:
    QString m_folder;
    bool m_fine = true;
};

/// Selects a step of the stage that is shown.
void selectStep(QWidget& in, const QString& begin)
{
    for (auto* list : in.findChildren<QListView*>(u"steps"_s))
        for (int i = 0; list->isVisibleTo(&in) && i < list->model()->rowCount(); ++i)
            if (const QModelIndex index = list->model()->index(i, 0);
                index.data().toString().startsWith(begin))
                list->setCurrentIndex(index);
}

void typeLog(ui::MainWindow& window, const std::string& text)
{
    auto& session = window.session();
    if (const LogLine line = readLogLine(text, session.job(), session.evaluation(), session.lastPoint());
        line.entry)
        session.log(*line.entry);
}

/// A copy of a demo job in a window of its own, at the moment after its last entry.
std::unique_ptr<ui::MainWindow> openDemo(const QString& jobs, const QTemporaryDir& scratch,
                                         const QString& name, const QString& picture)
{
    const QString copy = scratch.filePath(picture + u".offshoot"_s);
    QFile::copy(jobs + u'/' + name, copy);
    QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner);
    JobStore store = JobStore::open(copy);
    const double moment = momentAfter(store.loaded());
    auto window = std::make_unique<ui::MainWindow>(std::move(store), [moment] { return moment; });
    window->setAttribute(Qt::WA_DeleteOnClose, false);
    return window;
}

void takeBeacon(ui::MainWindow& window, Photographer& photographer)
{
    window.showStage(Stage::Need);
    photographer.take(window, u"need"_s);
    window.showStage(Stage::Found);
    window.session().select(Station::Converter);
    photographer.take(window, u"found"_s);
    window.session().select(Station::Feedback);
    window.showStage(Stage::Plan);
    photographer.take(window, u"plan"_s);
    window.showStage(Stage::Change);
    selectStep(window, u"Fit "_s);
    photographer.take(window, u"change"_s);
    window.showStage(Stage::SignOff);
    photographer.take(window, u"sign-off"_s);
    window.setBench(true);
    photographer.take(window, u"bench"_s);
    window.setBench(false);
    window.showStage(Stage::BringUp);
    window.showCaptures();
    photographer.take(window, u"captures"_s);
    window.showStage(Stage::BringUp);
    window.showSteps();
    typeLog(window, "out 24.05 @2A"); // a reading that breaks, with the faults that explain it
    window.showStage(Stage::BringUp);
    photographer.take(window, u"bring-up"_s);
}

/// What is it, half found out; then a walk along the board that is proven dead.
void takeFound(ui::MainWindow& window, Photographer& photographer)
{
    window.showStage(Stage::Found);
    window.session().edit(u"what was seen"_s, [](Job& job) {
        job.found.topology_assumed = true;
        setSilhouette(job.found, Silhouette::OpenBoard);
        setClue(job.found, KindClue::Iron, ClueAnswer::Ferrite);
        setClue(job.found, KindClue::Bulk, ClueAnswer::One);
    });
    window.foundPage().showTab(ui::FoundTab::Identity);
    photographer.take(window, u"identity"_s);
    window.session().undoStack().undo();
    for (const char* line : {"unplugged", "meter ok", "bulk 0.4V", "out 0.1V", "meter ok"})
        typeLog(window, line);
    window.session().edit(u"not read yet"_s, [](Job& job) {
        job.found.rails.front().capacitor.v_rated_v.reset();
        job.found.converter.v_rated_v.reset();
    });
    window.foundPage().showTab(ui::FoundTab::Walk);
    photographer.take(window, u"walk"_s);
}

void takePlan(ui::MainWindow& window, Photographer& photographer, ui::PlanKind kind, std::size_t rail,
              const QString& name)
{
    window.session().select(rail == 0 ? Station::Feedback : Station::Smoothing, rail);
    window.showStage(Stage::Plan);
    window.planPage().show(kind);
    window.show();
    // A simulation, its tolerances, and the ways arrive when they are done.
    const QDeadlineTimer patience(10000);
    const auto working = [&window] {
        const auto* ways = window.findChild<ui::WaysPage*>();
        const auto* rectifier = window.findChild<ui::RectifierPage*>();
        return window.session().simulating() || (ways != nullptr && ways->working()) ||
               (rectifier != nullptr && rectifier->working());
    };
    do
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    while (working() && !patience.hasExpired());
    photographer.take(window, name);
}

/// Five units side by side, the first of them some way on.
void takeBoard(ui::MainWindow& window, Photographer& photographer)
{
    window.session().edit(u"a batch"_s, [](Job& job) { job.batch.units = 5; });
    const ui::BoardPage& board = window.showBoard();
    window.show();
    const QDeadlineTimer patience(10000);
    do
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    while (board.working() && !patience.hasExpired());
    photographer.take(window, u"board"_s);
}

/// Some way into a rehearsal: behind the lamp, after a move that nobody should make.
void takeRehearsal(const Job& job, const ui::Look& look, Photographer& photographer)
{
    constexpr int unit = 4711;
    ui::Rehearsal rehearsal(job, unit, look);
    rehearsal.setStyleSheet(look.styleSheet());
    rehearsal.play(u"fit"_s);
    while (rehearsal.rehearsed().step() != nullptr && !rehearsal.rehearsed().bench().live())
        rehearsal.carryOut();
    rehearsal.carryOut();
    rehearsal.play(u"hand heatsink"_s);
    photographer.take(rehearsal, u"rehearsal"_s);
}

} // namespace

bool saveScreenshots(const QString& jobs, const QString& folder)
{
    QTemporaryDir scratch;
    if (!scratch.isValid() || !QDir().mkpath(folder))
        return false;
    // The shipped shelf, not one's own; no card lies under the pointer.
    qputenv("XDG_DATA_HOME", scratch.filePath(u"data"_s).toLocal8Bit());
    QCursor::setPos(0, 0);
    Photographer photographer(folder);
    const auto beacon = openDemo(jobs, scratch, u"beacon-float-charge.offshoot"_s, u"beacon"_s);
    takeBeacon(*beacon, photographer);
    const auto camera = openDemo(jobs, scratch, u"mast-camera.offshoot"_s, u"camera"_s);
    takeFound(*camera, photographer);
    struct Workspace
    {
        const char* job;
        ui::PlanKind kind;
        std::size_t rail;
        const char* picture;
        bool dark = false;
    };
    using ui::PlanKind;
    for (const Workspace& w : {Workspace{"beacon-float-charge", PlanKind::Ways, 0, "ways"},
                               Workspace{"tide-house-cabinet", PlanKind::Choose, 0, "choose"},
                               Workspace{"tide-house-cabinet", PlanKind::Fit, 0, "fit"},
                               Workspace{"tide-house-cabinet", PlanKind::Wires, 0, "wires"},
                               Workspace{"sample-bath", PlanKind::Panel, 0, "panel"},
                               Workspace{"radio-link", PlanKind::Stack, 0, "stacked-dark", true},
                               Workspace{"barograph-amplifier", PlanKind::Rectifier, 0, "rectifier"}}) {
        const QString picture = QLatin1StringView(w.picture);
        const auto window = openDemo(jobs, scratch, QLatin1StringView(w.job) + u".offshoot"_s, picture);
        window->look().setDark(w.dark);
        takePlan(*window, photographer, w.kind, w.rail, picture);
    }
    const auto rain = openDemo(jobs, scratch, u"rain-gauge-logger.offshoot"_s, u"board"_s);
    takeBoard(*rain, photographer);
    takeRehearsal(beacon->session().job(), beacon->look(), photographer);
    return photographer.fine();
}

} // namespace offshoot::app
