#include "ui/rectifier_run.h"

#include <QMetaObject>
#include <QPointer>

namespace offshoot::ui {

RectifierRun::RectifierRun(QObject* parent)
    : QObject(parent)
    , m_latest(std::make_shared<std::atomic<quint64>>(0))
{
    m_pool.setMaxThreadCount(1);
}

RectifierRun::~RectifierRun()
{
    ++*m_latest; // whatever runs stops at its next look
    m_pool.waitForDone();
}

/// `work` gets the progress callback and returns what is to be done with its result on the interface thread.
template <class Work>
void RectifierRun::launch(Work work)
{
    const quint64 number = ++*m_latest;
    m_pool.clear();
    m_running = true;
    m_pool.start([this, work, number, latest = m_latest] {
        const auto deliver = [this, number, latest](const std::function<void()>& finish) {
            QMetaObject::invokeMethod(
                this,
                [this, number, latest, finish] {
                    if (*latest != number)
                        return;
                    m_running = false;
                    finish();
                },
                Qt::QueuedConnection);
        };
        const SimProgress watch = [this, number, latest](double share) {
            QMetaObject::invokeMethod(
                this,
                [this, number, latest, share] {
                    if (*latest == number)
                        Q_EMIT progress(share);
                },
                Qt::QueuedConnection);
            return *latest == number;
        };
        try {
            deliver(work(watch));
        } catch (const SimCancelled&) {
            // A newer run has taken its place.
        } catch (const DocumentError& error) {
            deliver([this, message = QString::fromUtf8(error.what())] { Q_EMIT failed(message); });
        }
    });
}

void RectifierRun::start(const RectifierInput& input)
{
    launch([this, input](const SimProgress& watch) -> std::function<void()> {
        return [this, run = runChain(input, watch)] { Q_EMIT done(run); };
    });
}

void RectifierRun::start(const DropperInput& input)
{
    launch([this, input](const SimProgress& watch) -> std::function<void()> {
        return [this, result = rectifierDropper(input, watch)] { Q_EMIT dropped(result); };
    });
}

void RectifierRun::cancel()
{
    ++*m_latest;
    m_pool.clear();
    m_running = false;
}

} // namespace offshoot::ui
