// A rectifier simulation off the interface thread: progress while it runs, an outdated run stops, and only
// the latest result arrives.
#pragma once

#include "core/kinds/chain/chain_view.h"

#include <QObject>
#include <QString>
#include <QThreadPool>
#include <atomic>
#include <memory>

namespace offshoot::ui {

class RectifierRun : public QObject
{
    Q_OBJECT

public:
    explicit RectifierRun(QObject* parent = nullptr);
    ~RectifierRun() override;
    /// Starts a run; one under way is dropped.
    void start(const RectifierInput& input);
    /// Looks for the dropping resistor instead.
    void start(const DropperInput& input);
    void cancel();
    bool running() const { return m_running; }

Q_SIGNALS:
    void progress(double share);
    void done(const ChainRun& run);
    void dropped(const DropperResult& result);
    void failed(const QString& message);

private:
    template <class Work>
    void launch(Work work);

    QThreadPool m_pool;
    std::shared_ptr<std::atomic<quint64>> m_latest; ///< number of the run that counts
    bool m_running = false;
};

} // namespace offshoot::ui
