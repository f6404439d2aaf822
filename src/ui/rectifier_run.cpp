#include "ui/rectifier_run.h"

#include <QMetaObject>

namespace offshoot::ui {

RectifierRun::RectifierRun(QObject* parent)
    : QObject(parent)
{}

/// `work` gets the progress callback and returns what is to be done with its result on the interface thread.
template <class Work>
void RectifierRun::launch(Work work)
{
    m_work.start([this, work](const Background::Wanted& wanted) -> Background::Finish {
        const SimProgress watch = [this, wanted](double share) {
            QMetaObject::invokeMethod(
                this,
                [this, wanted, share] {
                    if (wanted())
                        Q_EMIT progress(share);
                },
                Qt::QueuedConnection);
            return wanted();
        };
        try {
            return work(watch);
        } catch (const DocumentError& error) {
            return [this, message = QString::fromUtf8(error.what())] { Q_EMIT failed(message); };
        }
    });
}

void RectifierRun::start(const RectifierInput& input)
{
    launch([this, input](const SimProgress& watch) -> Background::Finish {
        return [this, run = runChain(input, watch)] { Q_EMIT done(run); };
    });
}

void RectifierRun::start(const DropperInput& input)
{
    launch([this, input](const SimProgress& watch) -> Background::Finish {
        return [this, result = rectifierDropper(input, watch)] { Q_EMIT dropped(result); };
    });
}

void RectifierRun::start(const RectifierChain& chain)
{
    launch([this, chain](const SimProgress& watch) -> Background::Finish {
        return [this, result = chainSpread(chain, watch)] { Q_EMIT spread(result); };
    });
}

} // namespace offshoot::ui
