#include "app/screenshots.h"

#include "ui/found/found_page.h"
#include "ui/frame/main_window.h"
#include "ui/plan/plan_page.h"
#include "ui/signoff/signoff_page.h"

#include <QAbstractButton>
#include <QApplication>
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

    void take(ui::MainWindow& window, const QString& name, QSize size = {1280, 800})
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

void clickButton(QWidget& in, const QString& text)
{
    for (auto* button : in.findChildren<QAbstractButton*>())
        if (button->text() == text && button->isVisibleTo(&in))
            button->click();
}

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
                                         const QString& name)
{
    const QString copy = scratch.filePath(name);
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
    window.foundPage().showSteps(true);
    photographer.take(window, u"found-steps"_s);
    window.session().select(Station::Feedback);
    window.showStage(Stage::Plan);
    photographer.take(window, u"plan"_s);
    photographer.take(window, u"plan-narrow"_s, {1024, 700});
    clickButton(window, u"Temporary trimmer"_s);
    photographer.take(window, u"plan-trimmer"_s);
    clickButton(window, u"Two schools"_s);
    photographer.take(window, u"plan-schools"_s);
    clickButton(window, u"Fixed part"_s);
    window.showStage(Stage::Change);
    selectStep(window, u"Fit "_s);
    photographer.take(window, u"change"_s);
    window.showStage(Stage::BringUp);
    photographer.take(window, u"bring-up"_s);
    window.showStage(Stage::SignOff);
    photographer.take(window, u"sign-off"_s);
    window.showStage(Stage::Plan);
    window.look().setDark(true);
    photographer.take(window, u"plan-dark"_s);
    window.look().setDark(false);
    window.setBench(true);
    photographer.take(window, u"bench"_s);
    window.setBench(false);
    typeLog(window, "out 24.05 @2A");
    window.showStage(Stage::BringUp);
    photographer.take(window, u"diagnosis"_s);
}

void takePlan(ui::MainWindow& window, Photographer& photographer, ui::PlanKind kind, std::size_t rail,
              const QString& name)
{
    window.session().select(rail == 0 ? Station::Feedback : Station::Smoothing, rail);
    window.showStage(Stage::Plan);
    window.planPage().show(kind);
    photographer.take(window, name);
}

} // namespace

bool saveScreenshots(const QString& jobs, const QString& folder)
{
    QTemporaryDir scratch;
    if (!scratch.isValid() || !QDir().mkpath(folder))
        return false;
    Photographer photographer(folder);
    const auto beacon = openDemo(jobs, scratch, u"beacon-float-charge.offshoot"_s);
    takeBeacon(*beacon, photographer);
    const auto ferry = openDemo(jobs, scratch, u"ferry-shed-display.offshoot"_s);
    takePlan(*ferry, photographer, ui::PlanKind::Load, 1, u"minimum-load"_s);
    const auto rain = openDemo(jobs, scratch, u"rain-gauge-logger.offshoot"_s);
    takePlan(*rain, photographer, ui::PlanKind::Rewind, 0, u"rewind"_s);
    takePlan(*rain, photographer, ui::PlanKind::Hiccup, 0, u"hiccup"_s);
    const auto splicing = openDemo(jobs, scratch, u"splicing-bench.offshoot"_s);
    takePlan(*splicing, photographer, ui::PlanKind::Trim, 0, u"trim"_s);
    takePlan(*splicing, photographer, ui::PlanKind::Limit, 0, u"current-limit"_s);

    JobStore empty_store = JobStore::open([&scratch] {
        QString path = scratch.filePath(u"empty.offshoot"_s);
        Job job;
        job.drawer = defaultDrawer();
        writeFile(path, QByteArray::fromStdString(writeJob(job)));
        return path;
    }());
    ui::MainWindow empty(std::move(empty_store), [] { return 0.0; });
    empty.setAttribute(Qt::WA_DeleteOnClose, false);
    photographer.take(empty, u"empty"_s);
    return photographer.fine();
}

} // namespace offshoot::app
