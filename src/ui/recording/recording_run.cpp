#include "ui/recording/recording_run.h"

#include "core/values/format.h"
#include "ui/beside.h"
#include "ui/look.h"

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double apart_s = 1;     ///< between two points
constexpr double patience_s = 30; ///< without a reading

} // namespace

RecordingRun::RecordingRun(JobSession& session, bench::Meters& meters, QObject* parent)
    : QObject(parent)
    , m_session(session)
    , m_meters(meters)
{
    connect(&meters, &bench::Meters::changed, this, &RecordingRun::take);
    constexpr int tick_ms = 1000;
    m_clock.setInterval(tick_ms);
    connect(&m_clock, &QTimer::timeout, this, [this] {
        if (m_session.now() - m_last_s > patience_s)
            end(RecordingEnd::MeterLost);
    });
}

bool RecordingRun::start(const std::string& point, Quantity quantity, const StopRules& rules)
{
    if (running() || !m_meters.of(quantity)) {
        Q_EMIT m_session.problem(
            running()
                ? tr("One recording is under way.")
                : tr("No meter reads %1: attach one first (Ctrl+M).").arg(bench::quantityWord(quantity)));
        return false;
    }
    m_point = point;
    m_quantity = quantity;
    m_unit = m_session.unit();
    m_begun_s = m_session.now();
    m_last_s = m_begun_s - 2 * apart_s; // the first one counts at once
    m_recorder.emplace(rules);
    m_clock.start();
    take();
    return true;
}

void RecordingRun::take()
{
    const double now_s = m_session.now();
    const auto reading = running() ? m_meters.of(m_quantity) : std::nullopt;
    if (!reading || now_s - m_last_s < apart_s)
        return;
    m_last_s = now_s;
    const auto ended = m_recorder->take(now_s - m_begun_s, reading->value);
    if (ended)
        return end(*ended);
    Q_EMIT changed();
}

void RecordingRun::end(RecordingEnd ended)
{
    if (!running())
        return;
    m_clock.stop();
    const Recorder recorder = std::move(*m_recorder);
    m_recorder.reset();
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Reading};
    entry.point = m_point;
    entry.quantity = m_quantity;
    entry.value = recorder.values().back();
    entry.uncertainty = m_session.job().meter.uncertainty(*entry.value, m_quantity);
    entry.meter = m_session.job().meter.name;
    if (const auto load = m_quantity == Quantity::Voltage ? m_meters.loadA() : std::nullopt)
        entry.load = ReadingLoad{*load, Quantity::Current};
    entry.recording = recorder.kept(m_begun_s, ended);
    const std::string heading = m_point + (m_quantity == Quantity::Voltage   ? " (V)"
                                           : m_quantity == Quantity::Current ? " (A)"
                                                                             : "");
    QString base = qs(m_point);
    base.replace(u'/', u'-').replace(u' ', u'-');
    const QString file = keptBeside(m_session.store().path(), u"recordings"_s, base,
                                    QByteArray::fromStdString(recordingCsv(recorder, heading)));
    entry.recording->file = file.toStdString();
    const std::size_t in_hand = m_session.unit();
    m_session.takeUnit(m_unit); // it is that one's, whichever is in hand by now
    const bool logged = m_session.log(std::move(entry));
    m_session.takeUnit(in_hand);
    if (logged && file.isEmpty())
        Q_EMIT m_session.problem(
            tr("Its points are not kept: save the job first, and they stand beside it."));
    Q_EMIT changed();
}

} // namespace offshoot::ui
