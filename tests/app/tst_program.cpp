// The programs as they are started: pictures of every view, help, a file that cannot be opened, and what an
// installation holds.
#include "support/support.h"

#include <QDir>
#include <QImage>
#include <QProcess>
#include <QTemporaryDir>

using namespace Qt::StringLiterals;

class TestProgram : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;

    struct Ended
    {
        int status;
        QByteArray out;
        QByteArray err;
    };
    Ended run(const QString& program, const QStringList& arguments)
    {
        QProcess process;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(u"QT_QPA_PLATFORM"_s, u"offscreen"_s);
        environment.insert(u"XDG_STATE_HOME"_s, m_folder.filePath(u"state"_s));
        process.setProcessEnvironment(environment);
        process.start(program, arguments);
        if (!process.waitForFinished(240000))
            return {-1, {}, "did not end"};
        return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
    }

private Q_SLOTS:
    /// One picture of each main view, each of its size and each different.
    void screenshots()
    {
        const QString folder = m_folder.filePath(u"pictures"_s);
        const Ended ended = run(QStringLiteral(OFFSHOOT_PROGRAM), {u"--screenshots"_s, folder});
        QVERIFY2(ended.status == 0, ended.err.constData());
        QSet<QByteArray> seen;
        const QStringList made = QDir(folder).entryList({u"*.png"_s});
        for (const QString& name : made) {
            const QImage image(QDir(folder).filePath(name));
            QCOMPARE(image.size(), name.contains(u"narrow"_s) ? QSize(1024, 700) : QSize(1280, 800));
            seen.insert(QByteArray(reinterpret_cast<const char*>(image.constBits()), image.sizeInBytes()));
        }
        QCOMPARE(seen.size(), made.size());
        // The README shows exactly these.
        const QString readme = QString::fromStdString(offshoot::test::sourceFile("README.md"));
        for (const QString& name : made)
            QVERIFY2(readme.contains(u"docs/screenshots/"_s + name), qPrintable(name));
        QCOMPARE(readme.count(u"docs/screenshots/"_s), made.size());
        QCOMPARE(QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/docs/screenshots")).entryList({u"*.png"_s}), made);
    }

    void commandLine()
    {
        const Ended help = run(QStringLiteral(OFFSHOOT_PROGRAM), {u"--help"_s});
        QCOMPARE(help.status, 0);
        for (const char* word : {"--demo", "--screenshots", "JOB"})
            QVERIFY2(help.out.contains(word), word);
        QVERIFY(run(QStringLiteral(OFFSHOOT_PROGRAM), {u"--version"_s}).out.contains("0.1"));
        QVERIFY(run(QStringLiteral(OFFSHOOT_PROGRAM), {u"--nothing"_s}).status != 0);
        QVERIFY(run(QStringLiteral(OFFSHOOT_PROGRAM), {u"--screenshots"_s, u"/proc/no/such"_s}).status != 0);
    }

    /// Every document that the README links is there.
    void links()
    {
        const QString readme = QString::fromStdString(offshoot::test::sourceFile("README.md"));
        static const QRegularExpression link(u"\\]\\(([^)#]+)\\)"_s);
        int found = 0;
        for (auto it = link.globalMatch(readme); it.hasNext(); ++found) {
            const QString target = it.next().captured(1);
            QVERIFY2(QFile::exists(QStringLiteral(OFFSHOOT_SOURCE_DIR "/") + target), qPrintable(target));
        }
        QVERIFY(found > 10);
    }
};

REGISTER_TEST(TestProgram, QCoreApplication)
#include "tst_program.moc"
