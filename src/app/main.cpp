// offshoot [JOB…]: one window for each job; --demo opens copies of the demo jobs, --screenshots DIR draws
// them.
#include "app/screenshots.h"
#include "ui/frame/first_notes.h"
#include "ui/frame/main_window.h"
#include "ui/rehearse/rehearsal.h"
#include "ui/shipped.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QIcon>
#include <QMessageBox>
#include <QStandardPaths>
#include <QStyleFactory>
#include <QTemporaryDir>
#include <QTextStream>
#include <QTimer>
#include <algorithm>
#include <iterator>
#include <string_view>

using namespace Qt::StringLiterals;

namespace {

/// Copies of the demo jobs, so that playing does not change them; the one to begin with comes first.
QStringList demoCopies(const QString& folder)
{
    QStringList copies;
    const QDir jobs(offshoot::ui::shippedFolder(u"jobs"_s));
    QStringList names = jobs.entryList({u"*.offshoot"_s}, QDir::Files, QDir::Name);
    if (const auto first = names.indexOf(u"beacon-float-charge.offshoot"_s); first > 0)
        names.move(first, 0);
    for (const QString& name : names) {
        const QString copy = folder + u'/' + name;
        QFile::copy(jobs.filePath(name), copy);
        QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner);
        copies << copy;
    }
    return copies;
}

/// Jobs that were never saved and that a crash or a power cut left behind.
void offerRecovery()
{
    for (const QString& journal : offshoot::JobStore::unsavedJournals())
        if (auto* window = offshoot::ui::MainWindow::openWindow(journal, offshoot::ui::systemTime, nullptr))
            window->show();
}

class CommandLine
{
public:
    CommandLine()
    {
        parser.setApplicationDescription(
            QCoreApplication::translate("main", "Plan, carry out and record a change to a power supply."));
        parser.addHelpOption();
        parser.addVersionOption();
        parser.addPositionalArgument(u"JOB"_s, QCoreApplication::translate("main", "job files to open"));
        parser.addOption(demo);
        parser.addOption(screenshots);
    }

    QCommandLineParser parser;
    const QCommandLineOption demo{u"demo"_s,
                                  QCoreApplication::translate("main", "open copies of the demo jobs")};
    const QCommandLineOption screenshots{
        u"screenshots"_s, QCoreApplication::translate("main", "save one picture of each main view and end"),
        u"DIR"_s};
};

void nameProgram()
{
    QCoreApplication::setApplicationName(u"offshoot"_s);
    QCoreApplication::setApplicationVersion(QStringLiteral(OFFSHOOT_VERSION));
}

/// Help and version are words: they need no display.
bool wantsWordsAlone(int argc, char** argv)
{
    return std::any_of(argv + 1, argv + argc, [](std::string_view word) {
        return word == "-h" || word == "--help" || word == "--help-all" || word == "-v" ||
               word == "--version";
    });
}

} // namespace

int main(int argc, char** argv)
{
    nameProgram();
    if (wantsWordsAlone(argc, argv)) {
        const QCoreApplication words(argc, argv);
        CommandLine().parser.process(words); // ends the program
    }
    QApplication app(argc, argv);
    QGuiApplication::setDesktopFileName(u"offshoot"_s);
    QApplication::setStyle(QStyleFactory::create(u"Fusion"_s));
    offshoot::ui::loadFonts();
    QApplication::setWindowIcon(QIcon(u":/icons/offshoot.svg"_s));

    CommandLine line;
    QCommandLineParser& parser = line.parser;
    parser.process(app);

    if (parser.isSet(line.screenshots)) {
        try {
            return offshoot::app::saveScreenshots(offshoot::ui::shippedFolder(u"jobs"_s),
                                                  parser.value(line.screenshots))
                       ? 0
                       : 1;
        } catch (const std::exception& error) {
            QTextStream(stderr) << "offshoot: " << QString::fromUtf8(error.what()) << '\n';
            return 1;
        }
    }

    const QDir settings(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation));
    if (QDir().mkpath(settings.path())) {
        offshoot::ui::FirstNotes::setPlace(settings.filePath(u"notes.ini"_s));
        offshoot::ui::Rehearsal::setPlace(settings.filePath(u"exercises.ini"_s));
    }
    QTemporaryDir playground;
    QStringList paths = parser.positionalArguments();
    qsizetype demos = 0;
    if (parser.isSet(line.demo)) {
        // One window to begin with; the others stand in its job list.
        const QStringList copies = demoCopies(playground.path());
        demos = copies.size();
        paths += copies.mid(0, 1);
    }
    for (const QString& path : paths)
        if (auto* window = offshoot::ui::MainWindow::openWindow(path, offshoot::ui::systemTime, nullptr)) {
            window->show();
            if (demos > 1)
                window->tell(
                    QApplication::translate("main", "%1 demo jobs are here: Ctrl+J lists them.").arg(demos));
        }
    if (paths.isEmpty())
        offerRecovery();
    if (QApplication::topLevelWidgets().isEmpty()) {
        try {
            offshoot::ui::MainWindow::newWindow(offshoot::ui::systemTime)->show();
        } catch (const offshoot::StoreError& error) {
            QMessageBox::critical(nullptr, u"Offshoot"_s, QString::fromUtf8(error.what()));
            return 1;
        }
    }
    return QApplication::exec();
}
