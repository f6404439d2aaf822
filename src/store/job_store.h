// A job on disk: the file, its journal and its lock. Nothing acknowledged is ever lost.
//
// A log entry is written to the journal and synced before append() returns, so before the window shows it as
// taken. Edits go to the journal as whole snapshots and are synced with the next entry, save or close. A save
// replaces the file atomically and folds the journal into it. The journal stands beside the file as
// NAME.offshoot.journal; for a job never saved, in the XDG state folder.
#pragma once

#include "core/job/job.h"

#include <QFile>
#include <QLockFile>
#include <QString>
#include <QStringList>
#include <memory>
#include <optional>
#include <stdexcept>
#include <vector>

namespace offshoot {

/// What went wrong with which file; the message is for the person.
class StoreError : public std::runtime_error
{
public:
    explicit StoreError(const QString& message)
        : std::runtime_error(message.toStdString())
    {}
};

class JobStore
{
public:
    /// A job that has no file yet; its journal is kept in the XDG state folder.
    static JobStore untitled();
    /// Opens a file, or an untitled job's journal. Throws StoreError.
    static JobStore open(const QString& path);
    /// Journals of jobs that were never saved and that nobody has open.
    static QStringList unsavedJournals();

    JobStore(JobStore&&) = default;
    JobStore& operator=(JobStore&&) = default;
    ~JobStore() = default;

    const Job& loaded() const { return m_loaded; }
    /// Another window has the file: nothing is written.
    bool readOnly() const { return m_read_only; }
    /// The journal brought back entries or edits that the file did not have.
    bool recovered() const { return m_recovered; }
    /// What to tell about the opening; empty if nothing.
    const QString& message() const { return m_message; }
    const QString& path() const { return m_path; }

    /// On disk when it returns. Throws StoreError, and then the entry must not be shown as taken.
    void append(const LogEntry& entry);
    /// Keeps the edits of the job for recovery. Throws StoreError.
    void noteEdits(const Job& job);
    /// Saves to its own file. Throws StoreError; the old file is then untouched.
    void save(const Job& job);
    /// Saves to another file, which becomes its own.
    void saveAs(const Job& job, const QString& path);
    /// Forgets the journal of an untitled job that is not wanted.
    void discard();

private:
    JobStore() = default;
    void lock(const QString& path);
    void openJournal(const QString& path);
    void replay(const QByteArray& journal);
    void writeLine(const Json& line, bool sync);

    QString m_path;
    Job m_loaded;
    /// As the file or the newest line that has one says; a journal without a file begins with it.
    std::optional<std::vector<StockItem>> m_drawer_written;
    bool m_read_only = false;
    bool m_recovered = false;
    QString m_message;
    std::unique_ptr<QFile> m_journal;
    std::unique_ptr<QLockFile> m_lock;
};

/// Reads a text file whole. Throws StoreError.
QByteArray readFile(const QString& path);
/// Replaces a file atomically. Throws StoreError; the old one is then untouched.
void writeFile(const QString& path, const QByteArray& content);

} // namespace offshoot
