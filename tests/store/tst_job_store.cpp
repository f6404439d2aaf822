// Nothing acknowledged is ever lost: kills, full disks, torn and damaged journals, two windows on one file.
#include "store/job_store.h"
#include "store/schema_check.h"
#include "support/support.h"

#include <sys/resource.h>

#include <QDir>
#include <QProcess>
#include <QTemporaryDir>
#include <algorithm>
#include <csignal>
#include <random>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

LogEntry reading(const Job& job, double value)
{
    LogEntry entry{.id = nextLogId(job), .time_s = value, .kind = LogKind::Reading};
    entry.point = "bulk";
    entry.quantity = Quantity::Voltage;
    entry.value = value;
    return entry;
}

std::set<std::string> idsOf(const Job& job)
{
    std::set<std::string> ids;
    for (const LogEntry& entry : job.log)
        ids.insert(entry.id);
    return ids;
}

/// While it lives no file may grow beyond `bytes`: writing fails as on a full disk.
class FullDisk
{
public:
    explicit FullDisk(rlim_t bytes)
    {
        std::signal(SIGXFSZ, SIG_IGN);
        getrlimit(RLIMIT_FSIZE, &m_before);
        const rlimit now{bytes, m_before.rlim_max};
        setrlimit(RLIMIT_FSIZE, &now);
    }
    ~FullDisk() { setrlimit(RLIMIT_FSIZE, &m_before); }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

private:
    rlimit m_before{};
};

} // namespace

class TestJobStore : public QObject
{
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> m_folder;
    QString path(const QString& name = u"job.offshoot"_s) const { return m_folder->filePath(name); }
    QString made(const Job& job)
    {
        writeFile(path(), QByteArray::fromStdString(writeJob(job)));
        return path();
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(m_folder->isValid());
        qputenv("XDG_STATE_HOME", path(u"state"_s).toLocal8Bit());
    }

    void saveAndReopen()
    {
        Job job = test::demoJob();
        {
            JobStore store = JobStore::open(made(job));
            QVERIFY(!store.recovered() && !store.readOnly());
            job.log.push_back(reading(job, 3.5));
            store.append(job.log.back());
            store.save(job);
            QCOMPARE(QFileInfo(path() + u".journal"_s).size(), 0);
        }
        JobStore again = JobStore::open(path());
        QCOMPARE(again.loaded(), job);
        QVERIFY(!again.recovered());
    }

    /// Entries and the newest edits come back without a save.
    void recovers()
    {
        Job job;
        {
            JobStore store = JobStore::open(made(job));
            for (int i = 1; i <= 3; ++i) {
                job.log.push_back(reading(job, i));
                store.append(job.log.back());
                job.title = "edit " + std::to_string(i);
                job.revision = i;
                if (i == 2)
                    job.drawer = {
                        {.ohm = 4700,
                         .tolerance = 0.01}}; // told by the second line, and the third does not say it again
                store.noteEdits(job);
            }
        }
        JobStore again = JobStore::open(path());
        QVERIFY(again.recovered());
        QVERIFY(!again.message().isEmpty());
        QCOMPARE(again.loaded(), job);
    }

    void secondWindowReadsOnly()
    {
        const Job job = test::demoJob();
        const JobStore first = JobStore::open(made(job));
        JobStore second = JobStore::open(path());
        QVERIFY(second.readOnly());
        QVERIFY(second.message().contains(u"read"_s));
        QCOMPARE(second.loaded(), job);
        QVERIFY_THROWS_EXCEPTION(StoreError, second.append(reading(job, 1)));
        QVERIFY_THROWS_EXCEPTION(StoreError, second.save(job));
        JobStore third = JobStore::untitled();
        QVERIFY_THROWS_EXCEPTION(StoreError, third.saveAs(job, path()));
        QCOMPARE(QByteArray::fromStdString(writeJob(job)), readFile(path()));
    }

    /// A journal cut at any byte gives back every line before the cut.
    void tornJournal()
    {
        Job job;
        std::vector<qint64> ends;
        {
            JobStore store = JobStore::open(made(job));
            for (int i = 1; i <= 4; ++i) {
                job.log.push_back(reading(job, i));
                store.append(job.log.back());
                ends.push_back(QFileInfo(path() + u".journal"_s).size());
            }
        }
        const QByteArray whole = readFile(path() + u".journal"_s);
        for (qint64 cut = 0; cut <= whole.size(); ++cut) {
            writeFile(path() + u".journal"_s, whole.first(cut));
            JobStore store = JobStore::open(path());
            const auto complete = static_cast<std::size_t>(
                std::ranges::count_if(ends, [cut](qint64 end) { return end <= cut + 1; }));
            QVERIFY(store.loaded().log.size() >= complete);
            // And what is written behind the tear is whole again.
            store.append({.id = "after", .time_s = 0, .kind = LogKind::Note});
            QVERIFY(idsOf(JobStore::open(path()).loaded()).contains("after"));
        }
    }

    /// Bytes of the journal damaged at random: it opens, says so, and keeps the undamaged lines.
    void damagedJournal()
    {
        Job job;
        {
            JobStore store = JobStore::open(made(job));
            for (int i = 1; i <= 6; ++i) {
                job.log.push_back(reading(job, i));
                store.append(job.log.back());
            }
        }
        const QByteArray whole = readFile(path() + u".journal"_s);
        std::mt19937 random(51);
        for (int round = 0; round < 60; ++round) {
            QByteArray damaged = whole;
            const auto at = static_cast<qsizetype>(random() % static_cast<unsigned>(whole.size()));
            damaged[at] = static_cast<char>(random() % 256);
            writeFile(path() + u".journal"_s, damaged);
            QVERIFY(JobStore::open(path()).loaded().log.size() >=
                    4); // a lost line end costs two lines at most
        }
    }

    /// Whatever may be written before the disk is full: an error or a success, never a lost acknowledged
    /// entry.
    void fullDisk()
    {
        const Job start = test::demoJob();
        const auto file_size = static_cast<rlim_t>(writeJob(start).size());
        int failed = 0;
        for (rlim_t bytes : {0u, 40u, 170u, 400u, 1000u, 20000u, static_cast<unsigned>(file_size),
                             static_cast<unsigned>(file_size) + 5000u}) {
            Job job = start;
            QFile::remove(path() + u".journal"_s);
            std::set<std::string> acknowledged;
            {
                JobStore store = JobStore::open(made(job));
                const FullDisk full(bytes);
                for (int i = 0; i < 8; ++i)
                    try {
                        LogEntry entry = reading(job, i);
                        store.append(entry);
                        job.log.push_back(entry);
                        acknowledged.insert(entry.id);
                        if (i % 3 == 2)
                            store.save(job);
                    } catch (const StoreError& error) {
                        ++failed;
                        QVERIFY(QByteArray(error.what()).contains("job.offshoot"));
                    }
            }
            const auto found = idsOf(JobStore::open(path()).loaded());
            QVERIFY(std::ranges::includes(found, acknowledged));
        }
        QVERIFY(failed > 10);
    }

    /// Killed while it logs, edits and saves: every acknowledged reading is found, whatever the moment.
    void killed()
    {
        std::mt19937 random(61);
        std::size_t all = 0;
        for (int round = 0; round < 12; ++round) {
            QFile::remove(path() + u".journal"_s);
            made(Job{});
            QProcess process;
            process.start(QStringLiteral(OFFSHOOT_KEEP_LOGGING), {path()});
            QVERIFY(process.waitForReadyRead(20000));
            QTest::qWait(static_cast<int>(random() % 250));
            process.kill();
            QVERIFY(process.waitForFinished(10000));
            std::set<std::string> acknowledged;
            qint64 saved = 0;
            for (const QByteArray& line : process.readAllStandardOutput().split('\n'))
                if (line.startsWith("saved "))
                    saved = line.mid(6).toLongLong();
                else if (!line.isEmpty())
                    acknowledged.insert(line.toStdString());
            const JobStore store = JobStore::open(path());
            QVERIFY(!store.readOnly()); // the dead process holds no lock
            QVERIFY(std::ranges::includes(idsOf(store.loaded()), acknowledged));
            QVERIFY(store.loaded().revision >= saved);
            all += acknowledged.size();
        }
        QVERIFY(all > 50);
    }

    /// A job without a name survives too, and is offered until it is saved or discarded.
    void untitled()
    {
        Job job;
        {
            JobStore store = JobStore::untitled();
            job = store.loaded();
            QCOMPARE(job.drawer, defaultDrawer());
            job.log.push_back(reading(job, 2));
            store.append(job.log.back());
            QVERIFY(JobStore::unsavedJournals().isEmpty()); // somebody has it open
        }
        const QStringList left = JobStore::unsavedJournals();
        QCOMPARE(left.size(), 1);
        {
            JobStore store = JobStore::open(left.front());
            QCOMPARE(store.loaded().log, job.log);
            QVERIFY(store.path().isEmpty());
            store.saveAs(store.loaded(), path());
        }
        QVERIFY(JobStore::unsavedJournals().isEmpty());
        QCOMPARE(JobStore::open(path()).loaded().log, job.log);
    }

    /// Saved over another job: nothing of that one's journal comes back in this one.
    void savedOverAnother()
    {
        {
            JobStore other = JobStore::open(made(Job{}));
            other.append(reading(other.loaded(), 99));
        }
        QVERIFY(QFileInfo(path() + u".journal"_s).size() > 0);
        JobStore store = JobStore::untitled();
        Job job = store.loaded();
        job.title = "this one";
        job.log.push_back(reading(job, 1));
        store.append(job.log.back());
        store.saveAs(job, path());
        QCOMPARE(store.path(), path());
        job.log.push_back(reading(job, 2));
        store.append(job.log.back()); // into the new place
        store = JobStore::untitled();
        const JobStore again = JobStore::open(path());
        QCOMPARE(again.loaded().log, job.log);
        QCOMPARE(again.loaded().title, std::string("this one"));
    }

    /// A place that cannot be written says so, names the file, and the job goes on where it was.
    void nowhereToSave()
    {
        JobStore store = JobStore::open(made(test::demoJob()));
        const Job job = store.loaded();
        for (const QString& place : {u"/no/such/folder/job.offshoot"_s, u"/proc/job.offshoot"_s})
            try {
                store.saveAs(job, place);
                QFAIL("it was saved");
            } catch (const StoreError& error) {
                QVERIFY(!QByteArray(error.what()).isEmpty());
            }
        QCOMPARE(store.path(), path());
        store.append(reading(job, 5));
        store.save(job);
        QVERIFY_THROWS_EXCEPTION(StoreError, readFile(u"/no/such/file"_s));
    }

    void refuses_data()
    {
        QTest::addColumn<QByteArray>("content");
        QTest::addColumn<QByteArray>("says");
        QTest::newRow("newer") << QByteArray(R"({"version":7})") << QByteArray("newer Offshoot");
        QTest::newRow("no JSON") << QByteArray("PK\x03\x04") << QByteArray("the file");
        QTest::newRow("wrong type") << QByteArray(R"({"version":1,"need":{"current_a":"two"}})")
                                    << QByteArray("/need/current_a");
        QTest::newRow("empty") << QByteArray() << QByteArray("the file");
    }
    void refuses()
    {
        QFETCH(QByteArray, content);
        QFETCH(QByteArray, says);
        writeFile(path(), content);
        try {
            JobStore::open(path());
            QFAIL("it was opened");
        } catch (const StoreError& error) {
            QVERIFY2(QByteArray(error.what()).contains(says), error.what());
        }
        QCOMPARE(readFile(path()), content); // and left as it was
        QVERIFY_THROWS_EXCEPTION(StoreError, JobStore::open(path(u"none.offshoot"_s)));
    }

    /// The schema library and the core agree on what a job is.
    void schemaAgrees()
    {
        checkAgainstJobSchema(writeJob(test::demoJob()));
        checkAgainstJobSchema(writeJob(Job{}));
        for (const char* bad : {R"({"version":1,"title":5})", R"({"version":1,"need":{"current_a":-1}})",
                                R"({"version":0})", R"({})", R"({"version":1,"found":{"topology":"magic"}})",
                                R"({"version":1,"found":{"rails":[]}})"}) {
            QVERIFY_THROWS_EXCEPTION(DocumentError, readJob(bad));
            QVERIFY_THROWS_EXCEPTION(DocumentError, checkAgainstJobSchema(bad));
        }
    }

    /// Files of every version that was ever written: loaded, saved, and the same as the reference.
    void olderVersions()
    {
        const QDir folder(QStringLiteral(OFFSHOOT_SOURCE_DIR "/tests/versions"));
        const QStringList files = folder.entryList({u"version-?.offshoot"_s});
        QVERIFY(!files.isEmpty());
        for (const QString& name : files) {
            const Job job = readJob(readFile(folder.filePath(name)).toStdString());
            QCOMPARE(QString::fromStdString(job.title), u"Tide gauge"_s);
            QNEAR(job.need.target->v, 13.8);
            QCOMPARE(job.log.size(), 2u);
            QCOMPARE(readJob(writeJob(job)), job);
        }
    }
};

REGISTER_TEST(TestJobStore, QCoreApplication)
#include "tst_job_store.moc"
