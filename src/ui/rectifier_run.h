// A rectifier simulation off the interface thread: progress while it runs, an outdated run stops, and only
// the latest result arrives.
#pragma once

#include "core/calculate/rectifier_spread.h"
#include "core/kinds/chain/chain_view.h"
#include "ui/background.h"

#include <QObject>
#include <QString>

namespace offshoot::ui {

class RectifierRun : public QObject
{
    Q_OBJECT

public:
    explicit RectifierRun(QObject* parent = nullptr);
    /// Starts a run; one under way is dropped.
    void start(const RectifierInput& input);
    /// Looks for the dropping resistor instead.
    void start(const DropperInput& input);
    /// Or what the tolerances of this chain make of it.
    void start(const RectifierChain& chain);
    void cancel() { m_work.cancel(); }
    bool running() const { return m_work.running(); }

Q_SIGNALS:
    void progress(double share);
    void done(const ChainRun& run);
    void dropped(const DropperResult& result);
    void spread(const ChainSpread& spread);
    void failed(const QString& message);

private:
    template <class Work>
    void launch(Work work);

    Background m_work;
};

} // namespace offshoot::ui
