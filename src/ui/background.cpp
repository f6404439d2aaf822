#include "ui/background.h"

#include "core/calculate/rectifier.h"

#include <QMetaObject>

namespace offshoot::ui {

Background::Background(QObject* parent)
    : QObject(parent)
    , m_latest(std::make_shared<std::atomic<quint64>>(0))
{
    m_pool.setMaxThreadCount(1);
}

Background::~Background()
{
    ++*m_latest; // whatever runs stops at its next look
    m_pool.waitForDone();
}

void Background::start(const std::function<Finish(const Wanted&)>& work)
{
    const quint64 number = ++*m_latest;
    m_pool.clear();
    m_running = true;
    const Wanted wanted = [number, latest = m_latest] { return *latest == number; };
    // Not at once: of what changes several times in one turn of the event loop only the last is worked on.
    QMetaObject::invokeMethod(
        this,
        [this, work, wanted] {
            if (wanted())
                run(work, wanted);
        },
        Qt::QueuedConnection);
}

void Background::run(const std::function<Finish(const Wanted&)>& work, const Wanted& wanted)
{
    m_pool.start([this, work, wanted] {
        try {
            const Finish finish = work(wanted);
            QMetaObject::invokeMethod(
                this,
                [this, wanted, finish] {
                    if (!wanted())
                        return;
                    m_running = false;
                    finish();
                },
                Qt::QueuedConnection);
        } catch (const SimCancelled&) {
            // Newer work has taken its place.
        }
    });
}

void Background::cancel()
{
    ++*m_latest;
    m_pool.clear();
    m_running = false;
}

} // namespace offshoot::ui
