#include "ui/captures/capture_intake.h"

#include "ui/beside.h"
#include "ui/look.h"

#include <QDir>
#include <QFileInfo>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

CaptureIntake::CaptureIntake(JobSession& session, QObject* parent)
    : QObject(parent)
    , m_session(session)
{
    // What was missing may have been entered.
    connect(&session, &JobSession::changed, this, [this] {
        const Meter& meter = m_session.job().meter;
        if (m_ask && m_csv && m_scope != std::pair(meter.probe_factor, meter.amps_per_volt))
            workOut();
    });
}

void CaptureIntake::take(CaptureAsk ask, bool keep)
{
    m_ask = std::move(ask);
    m_keep = keep;
    m_csv.reset();
    m_headings.clear();
    m_entry.reset();
    m_problem.clear();
    m_missing = CaptureMissing::Nothing;
    read();
    Q_EMIT changed();
}

void CaptureIntake::drop()
{
    m_work.cancel();
    m_ask.reset();
    Q_EMIT changed();
}

void CaptureIntake::change(const std::function<void(CaptureAsk&)>& change)
{
    if (!m_ask)
        return;
    change(*m_ask);
    if (m_csv)
        workOut();
    Q_EMIT changed();
}

void CaptureIntake::keep()
{
    m_keep = true;
    if (m_entry && m_missing == CaptureMissing::Nothing && !working())
        finish();
}

void CaptureIntake::read()
{
    QString path = qs(m_ask->path);
    if (path.startsWith(u"~/"_s))
        path.replace(0, 1, QDir::homePath());
    path = pathBeside(m_session.store().path(), path);
    m_ask->path = path.toStdString();
    m_work.start([this, path](const Background::Wanted&) -> Background::Finish {
        try {
            auto csv = std::make_shared<const std::string>(readFile(path).toStdString());
            auto headings = captureHeadings(*csv);
            return [this, csv, headings] {
                m_csv = csv;
                m_headings = headings;
                workOut();
            };
        } catch (const std::exception& error) { // StoreError or DocumentError: both speak to the person
            return [this, message = QString::fromUtf8(error.what())] {
                m_problem = message;
                Q_EMIT changed();
            };
        }
    });
}

void CaptureIntake::workOut()
{
    const Meter& meter = m_session.job().meter;
    m_scope = {meter.probe_factor, meter.amps_per_volt};
    m_problem.clear();
    m_entry.reset();
    try {
        m_missing = captureMissing(*m_ask, m_headings, meter);
    } catch (const DocumentError& error) {
        m_problem = QString::fromUtf8(error.what());
        m_work.cancel();
        Q_EMIT changed();
        return;
    }
    m_work.start([this, ask = *m_ask, csv = m_csv,
                  job = m_session.job()](const Background::Wanted&) -> Background::Finish {
        try {
            return [this, entry = captureEntry(ask, *csv, job)] {
                m_entry = entry;
                if (m_keep && m_missing == CaptureMissing::Nothing)
                    return finish();
                Q_EMIT changed();
            };
        } catch (const DocumentError& error) {
            return [this, message = QString::fromUtf8(error.what())] {
                m_problem = message;
                Q_EMIT changed();
            };
        }
    });
    Q_EMIT changed();
}

void CaptureIntake::finish()
{
    m_work.start([this, csv = m_csv, from = qs(m_ask->path),
                  job = m_session.store().path()](const Background::Wanted&) -> Background::Finish {
        const QString kept = keptBeside(job, u"captures"_s, QFileInfo(from).completeBaseName(),
                                        QByteArray::fromStdString(*csv));
        return [this, file = kept.isEmpty() ? from : kept] { log(file); };
    });
}

void CaptureIntake::log(const QString& file)
{
    LogEntry entry = *m_entry;
    entry.capture->from = QFileInfo(qs(m_ask->path)).fileName().toStdString();
    entry.capture->file = file.toStdString();
    entry.typed = "capture " + entry.capture->from + " " + *entry.point + loadText(entry);
    attachCapture(entry, m_session.evaluation());
    m_ask.reset();
    const bool logged = m_session.log(std::move(entry));
    Q_EMIT changed();
    if (!logged)
        return;
    if (QFileInfo(file).isAbsolute())
        Q_EMIT m_session.problem(
            tr("The samples stay where they are: save the job, and take them in again to "
               "keep them beside it."));
    Q_EMIT kept();
}

} // namespace offshoot::ui
