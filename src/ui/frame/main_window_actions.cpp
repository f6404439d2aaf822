// What the window can be asked to do: every command with its key, and what goes out of a job and into it.
#include "core/evaluate/parts.h"
#include "core/values/format.h"
#include "ui/batch/board_page.h"
#include "ui/frame/command_palette.h"
#include "ui/frame/consequences_panel.h"
#include "ui/frame/handbook.h"
#include "ui/frame/job_list.h"
#include "ui/frame/main_window.h"
#include "ui/frame/meter_dialog.h"
#include "ui/frame/stage_rail.h"
#include "ui/readouts/readouts_page.h"
#include "ui/rehearse/rehearsal.h"
#include "ui/signoff/report.h"

#include <QApplication>
#include <QClipboard>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMessageBox>
#include <QRandomGenerator>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QAction* MainWindow::action(const QString& text, const QKeySequence& key, std::function<void()> run)
{
    auto* made = new QAction(text, this);
    made->setShortcut(key);
    connect(made, &QAction::triggered, this, [run = std::move(run)] { run(); });
    addAction(made);
    m_actions << made;
    return made;
}

void MainWindow::buildActions()
{
    action(tr("Every action…"), Qt::CTRL | Qt::Key_K, [this] {
        CommandPalette(m_actions.mid(1), this).exec(); // not this one, which comes first
    });
    buildStageActions();
    buildFileActions();
    buildViewActions();
    buildMeterActions();
}

void MainWindow::buildStageActions()
{
    for (int i = 0; i < 6; ++i) {
        const auto stage = static_cast<Stage>(i);
        action(tr("Stage: %1").arg(stageName(stage)),
               QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)),
               [this, stage] { showStage(stage); });
    }
    action(tr("Log line"), Qt::CTRL | Qt::Key_L, [this] { beginLog({}); });
    action(tr("Declare every source off"), {}, [this] {
        const auto on = m_session->evaluation().isolation.sources_on;
        QStringList names;
        for (const std::string& source : on)
            names << qs(source);
        // One by one: each is asked for by name.
        for (const QString& name : names)
            if (QMessageBox::question(this, tr("Declare off"),
                                      tr("Is %1 off, and will it stay off?").arg(name)) == QMessageBox::Yes)
                m_session->declareOff(name);
    });
    action(tr("Meter proven on a known voltage"), {}, [this] { m_session->meterProven(); });
    action(tr("It is live"), {}, [this] { m_session->declareLive(); });
    action(tr("Rehearse on a simulated unit"), Qt::CTRL | Qt::SHIFT | Qt::Key_R, [this] { rehearse(); });
    action(tr("Captures of the oscilloscope"), Qt::CTRL | Qt::SHIFT | Qt::Key_O, [this] { showCaptures(); });
    action(tr("A file of the oscilloscope…"), {}, [this] { askCapture(); });
    action(tr("Sign off"), {}, [this] { m_session->signOff(); });
    action(tr("Undo"), QKeySequence::Undo, [this] { m_session->undoStack().undo(); });
    auto* redo = action(tr("Redo"), QKeySequence::Redo, [this] { m_session->undoStack().redo(); });
    redo->setShortcuts({QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
}

void MainWindow::buildFileActions()
{
    action(tr("New job"), QKeySequence::New, [this] { newWindow(m_nowS, m_look->setting())->show(); });
    action(tr("Open…"), QKeySequence::Open, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Open a job"), {}, tr("Jobs (*.offshoot)"));
        if (!path.isEmpty())
            if (MainWindow* window = openWindow(path, m_nowS, this))
                window->show();
    });
    action(tr("Jobs of this folder…"), Qt::CTRL | Qt::Key_J, [this] {
        JobList list(m_session->store().path().isEmpty() ? QDir::homePath()
                                                         : QFileInfo(m_session->store().path()).path(),
                     this);
        if (list.exec() == QDialog::Accepted)
            if (MainWindow* window = openWindow(list.chosen(), m_nowS, this))
                window->show();
    });
    action(tr("Save"), QKeySequence::Save, [this] {
        if (m_session->store().path().isEmpty())
            saveAs();
        else if (m_session->save())
            say(tr("Saved."));
    });
    action(tr("Save as…"), QKeySequence::SaveAs, [this] { saveAs(); });
    action(tr("Report as PDF…"), {}, [this] { exportAsking(u"pdf"_s); });
    action(tr("Report as HTML…"), {}, [this] { exportAsking(u"html"_s); });
    action(tr("Label as SVG…"), {}, [this] { exportAsking(u"svg"_s); });
    action(tr("Parts list as CSV…"), {}, [this] { exportAsking(u"parts"_s); });
    action(tr("Drawer: import CSV…"), {}, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Import a drawer"), {}, tr("CSV (*.csv)"));
        if (!path.isEmpty())
            importDrawer(path);
    });
    action(tr("Drawer: export CSV…"), {}, [this] { exportAsking(u"drawer"_s); });
    action(tr("Drawer: E24 1 % and E12 5 %"), {},
           [this] { m_session->edit(tr("default drawer"), [](Job& job) { job.drawer = defaultDrawer(); }); });
    action(tr("Readings: import CSV…"), {}, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Import readings"), {}, tr("CSV (*.csv)"));
        if (!path.isEmpty())
            importReadings(path);
    });
    action(tr("Readings: export CSV…"), {}, [this] { exportAsking(u"readings"_s); });
    action(tr("Same change on another unit"), {}, [this] { nextUnit(); });
    action(tr("Close"), QKeySequence::Close, [this] { close(); });
}

void MainWindow::rehearse()
{
    constexpr int seeds = 10000;
    if (m_rehearsal == nullptr) {
        m_rehearsal =
            new Rehearsal(m_session->edited(), QRandomGenerator::global()->bounded(seeds), *m_look, this);
        m_rehearsal->setAttribute(Qt::WA_DeleteOnClose);
    }
    m_rehearsal->show();
    m_rehearsal->raise();
    m_rehearsal->activateWindow();
}

void MainWindow::buildViewActions()
{
    action(tr("Handbook: what is in front"), QKeySequence::HelpContents, [this] {
        if (m_handbook == nullptr)
            m_handbook = new Handbook(*m_look, this);
        m_handbook->show();
        m_handbook->raise();
        m_handbook->goTo(topic());
    });
    action(tr("Bench mode"), Qt::Key_F11, [this] { setBench(m_bench == nullptr); });
    action(tr("Dark or light"), Qt::CTRL | Qt::Key_D, [this] { m_look->setDark(!m_look->dark()); });
    action(tr("Digits beside colour bands"), Qt::CTRL | Qt::Key_B,
           [this] { m_look->setBandDigits(!m_look->bandDigits()); });
    auto* larger =
        action(tr("Larger"), Qt::CTRL | Qt::Key_Plus, [this] { m_look->setPercent(m_look->percent() + 10); });
    larger->setShortcuts({QKeySequence(Qt::CTRL | Qt::Key_Plus), QKeySequence(Qt::CTRL | Qt::Key_Equal)});
    action(tr("Smaller"), Qt::CTRL | Qt::Key_Minus, [this] { m_look->setPercent(m_look->percent() - 10); });
    action(tr("Normal size"), Qt::CTRL | Qt::Key_0, [this] { m_look->setPercent(100); });
    action(tr("Fold or unfold the consequences"), Qt::CTRL | Qt::Key_E, [this] {
        m_foldedByHand = !m_consequences->folded();
        m_consequences->setFolded(m_foldedByHand);
        m_consequences->setFixedWidth(m_look->px(m_foldedByHand ? 40 : 342));
    });
}

void MainWindow::buildMeterActions()
{
    action(tr("Meter: attach…"), Qt::CTRL | Qt::Key_M, [this] { askMeter(0); });
    action(tr("Second meter: attach…"), {}, [this] { askMeter(1); });
    action(tr("Meters: detach"), {}, [this] {
        for (std::size_t which = 0; which < bench::Meters::count; ++which)
            m_meters.link(which).detach();
    });
    action(tr("Meter: its accuracy…"), {}, [this] {
        MeterDialog dialog(*m_session, *m_look, this);
        dialog.exec();
        if (dialog.holdWanted())
            showReadouts().holdOwnMeter(Quantity::Voltage);
    });
    action(tr("Record a reading over time"), {}, [this] { showRecording(); });
    action(tr("Readouts: is a display right?"), {}, [this] { showReadouts(); });
    action(tr("Batch: the board of its units"), Qt::CTRL | Qt::SHIFT | Qt::Key_B, [this] { showBoard(); });
    action(tr("Meter: take its reading"), Qt::CTRL | Qt::Key_R, [this] {
        const auto volts = m_meters.of(Quantity::Voltage);
        const auto reading = volts ? volts : m_meters.any();
        constexpr int digits = 6;
        if (reading)
            beginLog(
                qs(m_session->lastPoint() + ' ' + formatValue(reading->value, reading->quantity, digits)) +
                m_meters.behind());
        else
            say(m_meters.attached() ? tr("The meter shows no reading.")
                                    : tr("No meter is attached: Ctrl+M."));
    });
    action(tr("Log line: take the clipboard"), Qt::CTRL | Qt::SHIFT | Qt::Key_V,
           [this] { beginLog(QGuiApplication::clipboard()->text().simplified()); });
    connect(&m_meters, &bench::Meters::said, this, &MainWindow::say);
}

void MainWindow::askMeter(std::size_t which)
{
    bool given = false;
    const QString address =
        QInputDialog::getText(this, which == 0 ? tr("Attach a meter") : tr("Attach a second meter"),
                              tr("HOST:PORT, a serial port and its speed, or /dev/usbtmc0; behind it, if it "
                                 "is asked in another way, as and "
                                 "a row of the table"),
                              QLineEdit::Normal, m_meterAddresses.at(which), &given);
    if (given)
        attachMeter(address, which);
}

bool MainWindow::exportTo(const QString& kind, const QString& path)
{
    const Job& job = m_session->job();
    const Evaluation& e = m_session->evaluation();
    const QString folder = QFileInfo(m_session->store().path()).path();
    try {
        if (kind == u"pdf"_s)
            writeReportPdf(path, job, e, m_session->chainRun(), folder);
        else if (kind == u"html"_s)
            writeFile(path, reportHtml(job, e, m_session->chainRun(), folder).toUtf8());
        else if (kind == u"parts"_s)
            writeFile(path, QByteArray::fromStdString(writePartsCsv(partsOf(job, e))));
        else if (kind == u"svg"_s)
            writeFile(
                path,
                labelSvg(
                    job, e,
                    QDateTime::fromSecsSinceEpoch(static_cast<qint64>(m_nowS())).toString(u"yyyy-MM-dd"_s))
                    .toUtf8());
        else if (kind == u"drawer"_s)
            writeFile(path, QByteArray::fromStdString(writeDrawerCsv(job.drawer)));
        else
            writeFile(path, QByteArray::fromStdString(writeReadingsCsv(job.log)));
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
    say(tr("Written: %1").arg(path));
    return true;
}

void MainWindow::exportAsking(const QString& kind)
{
    const bool table = kind == u"drawer"_s || kind == u"readings"_s || kind == u"parts"_s;
    const QString suffix = table ? u"csv"_s : kind;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Export"), u"%1.%2"_s.arg(qs(m_session->job().title), suffix));
    if (!path.isEmpty())
        exportTo(kind, path);
}

bool MainWindow::importDrawer(const QString& path)
{
    try {
        const QByteArray text = readFile(path);
        const auto drawer = readDrawerCsv({text.constData(), static_cast<std::size_t>(text.size())});
        if (!drawer) {
            say(tr("%1: %2").arg(path, qs(drawer.problem().message)));
            return false;
        }
        m_session->edit(tr("import drawer"), [&](Job& job) { job.drawer = *drawer; });
        say(tr("The drawer holds %1 different parts now.").arg(drawer->size()));
        return true;
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
}

bool MainWindow::importReadings(const QString& path)
{
    try {
        const QByteArray text = readFile(path);
        const auto readings = readReadingsCsv({text.constData(), static_cast<std::size_t>(text.size())});
        if (!readings) {
            say(tr("%1: %2").arg(path, qs(readings.problem().message)));
            return false;
        }
        for (LogEntry entry : *readings) {
            entry.imported = true;
            if (!m_session->log(std::move(entry)))
                return false;
        }
        say(tr("%1 readings were taken in.").arg(readings->size()));
        return true;
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
}

} // namespace offshoot::ui
