// A recording under way: it takes what the meter reads until a rule or somebody ends it, and logs it.
#pragma once

#include "bench/meters.h"
#include "core/job/recorder.h"
#include "ui/session.h"

#include <QObject>
#include <QTimer>
#include <optional>

namespace offshoot::ui {

class RecordingRun : public QObject
{
    Q_OBJECT

public:
    RecordingRun(JobSession& session, bench::Meters& meters, QObject* parent = nullptr);

    /// Begins at a point of the log; false, with the reason said, where no meter reads that.
    bool start(const std::string& point, Quantity quantity, const StopRules& rules);
    void stop() { end(RecordingEnd::ByHand); }
    bool running() const { return m_recorder.has_value(); }
    /// What runs, or ran last.
    const Recorder* recorder() const { return m_recorder ? &*m_recorder : nullptr; }
    const std::string& point() const { return m_point; }
    Quantity quantity() const { return m_quantity; }

Q_SIGNALS:
    void changed();

private:
    void take();
    void end(RecordingEnd ended);

    JobSession& m_session;
    bench::Meters& m_meters;
    std::optional<Recorder> m_recorder;
    std::string m_point;
    Quantity m_quantity = Quantity::Voltage;
    std::size_t m_unit = 1; ///< of the batch that it was begun for
    double m_begun_s = 0;
    double m_last_s = 0; ///< when something was taken last
    QTimer m_clock;
};

} // namespace offshoot::ui
