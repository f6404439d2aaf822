#include "store/job_store.h"

#include "store/schema_check.h"

#include <fcntl.h>
#include <unistd.h>

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>
#include <QUuid>
#include <set>

namespace offshoot {

namespace {

QString tr(const char* text) { return QCoreApplication::translate("JobStore", text); }

QString stateFolder()
{
    QString base = qEnvironmentVariable("XDG_STATE_HOME");
    if (base.isEmpty())
        base = QDir::homePath() + QStringLiteral("/.local/state");
    return base + QStringLiteral("/offshoot");
}

constexpr const char* journal_suffix = ".journal";

QString journalFor(const QString& path) { return path + QLatin1String(journal_suffix); }

/// A name made or replaced in a folder is on disk only once the folder is.
void syncFolderOf(const QString& path)
{
    const int folder = ::open(QFile::encodeName(QFileInfo(path).absolutePath()).constData(),
                              O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (folder < 0)
        return;
    ::fsync(folder);
    ::close(folder);
}

bool isUntitledJournal(const QString& path)
{
    return path.endsWith(QLatin1String(journal_suffix)) &&
           QFileInfo(path).absolutePath() == QFileInfo(stateFolder()).absoluteFilePath();
}

} // namespace

QByteArray readFile(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        throw StoreError(tr("Cannot read %1: %2").arg(path, file.errorString()));
    constexpr qint64 most_bytes = qint64{64} * 1024 * 1024;
    if (file.size() > most_bytes)
        throw StoreError(tr("Cannot read %1: it is larger than 64 MB").arg(path));
    return file.readAll();
}

void writeFile(const QString& path, const QByteArray& content)
{
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly) || file.write(content) != content.size() || !file.commit())
        throw StoreError(tr("Cannot write %1: %2").arg(path, file.errorString()));
    syncFolderOf(path);
}

JobStore JobStore::untitled()
{
    JobStore store;
    store.m_loaded.drawer = defaultDrawer();
    store.m_loaded.found.topology_assumed = true; // nobody has looked yet
    if (!QDir().mkpath(stateFolder()))
        throw StoreError(tr("Cannot make the folder %1").arg(stateFolder()));
    const QString name = QUuid::createUuid().toString(QUuid::WithoutBraces);
    const QString path = QStringLiteral("%1/untitled-%2.journal").arg(stateFolder(), name);
    store.lock(path);
    store.openJournal(path);
    return store;
}

QStringList JobStore::unsavedJournals()
{
    QStringList free;
    const QDir folder(stateFolder());
    for (const QString& name :
         folder.entryList({QStringLiteral("untitled-*.journal")}, QDir::Files, QDir::Time)) {
        const QString path = folder.filePath(name);
        QLockFile probe(path + QStringLiteral(".lock"));
        probe.setStaleLockTime(0);
        if (QFileInfo(path).size() > 0 && probe.tryLock(0))
            free.push_back(path);
    }
    return free;
}

JobStore JobStore::open(const QString& path)
{
    JobStore store;
    store.lock(path);
    if (isUntitledJournal(path)) {
        store.m_loaded.drawer = defaultDrawer();
        store.replay(readFile(path));
        store.openJournal(path);
        return store;
    }
    const QByteArray text = readFile(path);
    try {
        const std::string_view view(text.constData(), static_cast<std::size_t>(text.size()));
        store.m_loaded = readJob(view);
        checkAgainstJobSchema(view);
    } catch (const DocumentError& error) {
        const QString where = error.path().empty() ? tr("the file") : QString::fromStdString(error.path());
        throw StoreError(tr("%1 is not a job Offshoot can read: at %2, %3")
                             .arg(path, where, QString::fromUtf8(error.what())));
    }
    store.m_path = path;
    if (QFileInfo::exists(journalFor(path)))
        store.replay(readFile(journalFor(path)));
    store.m_drawer_written = store.m_loaded.drawer;
    if (!store.m_read_only)
        store.openJournal(journalFor(path));
    return store;
}

void JobStore::lock(const QString& path)
{
    m_lock = std::make_unique<QLockFile>(path + QStringLiteral(".lock"));
    m_lock->setStaleLockTime(0); // a lock lives as long as its process
    if (m_lock->tryLock(0))
        return;
    m_read_only = true;
    m_message = m_lock->error() == QLockFile::LockFailedError
                    ? tr("Another window has this job open: here it can only be read.")
                    : tr("This folder cannot be written to: the job can only be read.");
}

void JobStore::openJournal(const QString& path)
{
    const bool is_new = !QFileInfo::exists(path);
    m_journal = std::make_unique<QFile>(path);
    if (!m_journal->open(QIODevice::ReadWrite | QIODevice::Append | QIODevice::Unbuffered))
        throw StoreError(tr("Cannot open the journal %1: %2").arg(path, m_journal->errorString()));
    if (is_new)
        syncFolderOf(path);
    // A line torn by a power cut must not swallow the next one.
    if (m_journal->size() > 0) {
        m_journal->seek(m_journal->size() - 1);
        if (m_journal->read(1) != "\n")
            m_journal->write("\n");
    }
}

void JobStore::replay(const QByteArray& journal)
{
    std::set<std::string> known;
    for (const LogEntry& entry : m_loaded.log)
        known.insert(entry.id);
    for (const QByteArray& line : journal.split('\n')) {
        if (line.isEmpty())
            continue;
        try {
            const Json document = parseJson({line.constData(), static_cast<std::size_t>(line.size())});
            if (document.contains("entry")) {
                const auto entry = readJson<LogEntry>(document["entry"], UnknownKeys::Keep);
                if (known.insert(entry.id).second) {
                    m_loaded.log.push_back(entry);
                    m_recovered = true;
                }
            } else if (document.contains("edits")) {
                auto edited = readJson<Job>(document["edits"], UnknownKeys::Keep);
                if (edited.revision > m_loaded.revision) {
                    edited.log = std::move(m_loaded.log);
                    if (!document["edits"].contains("drawer"))
                        edited.drawer = std::move(m_loaded.drawer);
                    m_loaded = std::move(edited);
                    m_recovered = true;
                }
            }
        } catch (const DocumentError&) {
            // Only what was never acknowledged can be torn: the line being written when the power went.
            m_message = tr("A damaged line of the journal was left out.");
        }
    }
    if (m_recovered && m_message.isEmpty())
        m_message = tr("The last session ended without a save: everything was brought back.");
}

void JobStore::writeLine(const Json& line, bool sync)
{
    if (m_read_only)
        throw StoreError(tr("This job can only be read here."));
    const std::string text = line.dump() + '\n';
    const auto size = static_cast<qint64>(text.size());
    const qint64 before = m_journal->size();
    if (m_journal->write(text.data(), size) != size) {
        const QString reason = m_journal->errorString();
        m_journal->resize(before);
        throw StoreError(
            tr("Not taken: the journal %1 cannot be written: %2").arg(m_journal->fileName(), reason));
    }
    if (sync && ::fsync(m_journal->handle()) != 0) {
        m_journal->resize(before); // its id will be given again
        throw StoreError(tr("Not taken: the journal %1 cannot be synced").arg(m_journal->fileName()));
    }
}

void JobStore::append(const LogEntry& entry)
{
    writeLine(Json{{"entry", writeJson(entry, NullPolicy::Omit)}}, true);
}

void JobStore::noteEdits(const Job& job)
{
    Job edits = job;
    edits.log.clear();
    const bool same_drawer = m_drawer_written == job.drawer;
    if (same_drawer)
        edits.drawer.clear();
    Json written = writeJson(edits, NullPolicy::Omit);
    if (same_drawer)
        written.erase("drawer"); // mostly three quarters of a job
    writeLine(Json{{"edits", std::move(written)}}, false);
    m_drawer_written = job.drawer;
}

void JobStore::save(const Job& job)
{
    if (m_read_only)
        throw StoreError(tr("This job can only be read here."));
    if (m_path.isEmpty())
        throw StoreError(tr("This job has no name yet."));
    writeFile(m_path, QByteArray::fromStdString(writeJob(job)));
    m_journal->resize(0);
    m_drawer_written = job.drawer;
}

void JobStore::saveAs(const Job& job, const QString& path)
{
    JobStore next;
    next.lock(path);
    if (next.m_read_only)
        throw StoreError(tr("Another window has %1 open.").arg(path));
    writeFile(path, QByteArray::fromStdString(writeJob(job)));
    next.m_path = path;
    next.m_drawer_written = job.drawer;
    QFile::remove(journalFor(path));
    next.openJournal(journalFor(path));
    if (m_path.isEmpty() && !m_read_only)
        discard();
    *this = std::move(next);
}

void JobStore::discard()
{
    if (m_journal)
        m_journal->remove();
}

} // namespace offshoot
