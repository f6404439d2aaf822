// A file of an oscilloscope on its way into the log: read and worked out off the interface thread, asked for
// what it does not say, kept beside the job.
#pragma once

#include "core/evaluate/capture_reading.h"
#include "ui/background.h"
#include "ui/session.h"

#include <QObject>
#include <QString>
#include <memory>
#include <optional>
#include <vector>

namespace offshoot::ui {

class CaptureIntake : public QObject
{
    Q_OBJECT

public:
    explicit CaptureIntake(JobSession& session, QObject* parent = nullptr);

    /// Takes a file in. It is logged as soon as nothing is missing where `keep` says so, else when keep() is
    /// called. A file under way is dropped.
    void take(CaptureAsk ask, bool keep);
    /// Changes what is asked of the file that waits.
    void change(const std::function<void(CaptureAsk&)>& change);
    /// Logs the file that waits, once nothing is missing.
    void keep();
    void drop();

    /// What waits to be kept.
    const std::optional<CaptureAsk>& waiting() const { return m_ask; }
    /// Of the file that waits; empty while it is read.
    const std::vector<CaptureHeading>& headings() const { return m_headings; }
    /// What it will be in the log; nothing while it is worked out, or where it cannot be.
    const std::optional<LogEntry>& entry() const { return m_entry; }
    CaptureMissing missing() const { return m_missing; }
    /// Why it cannot be read; empty where it can.
    const QString& problem() const { return m_problem; }
    bool working() const { return m_work.running(); }

Q_SIGNALS:
    void changed();
    /// Logged.
    void kept();

private:
    void read();
    void workOut();
    void finish();
    void log(const QString& file);

    JobSession& m_session;
    std::optional<CaptureAsk> m_ask;
    bool m_keep = false;
    std::shared_ptr<const std::string> m_csv;
    std::vector<CaptureHeading> m_headings;
    std::optional<LogEntry> m_entry;
    CaptureMissing m_missing = CaptureMissing::Nothing;
    QString m_problem;
    std::pair<std::optional<double>, std::optional<double>> m_scope; ///< the meter's, as worked out with
    Background m_work;
};

} // namespace offshoot::ui
