// Work off the interface thread of which only the latest counts.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <atomic>
#include <functional>
#include <memory>

namespace offshoot::ui {

class Background : public QObject
{
public:
    /// Whether the work's result is still asked for.
    using Wanted = std::function<bool()>;
    /// What is to be done with the result, on the interface thread.
    using Finish = std::function<void()>;

    explicit Background(QObject* parent = nullptr);
    ~Background() override;
    /// Works on `work` on a thread of its own, from the next turn of the event loop; one under way is
    /// dropped. It may stop by throwing SimCancelled when it is no longer wanted.
    void start(const std::function<Finish(const Wanted&)>& work);
    void cancel();
    bool running() const { return m_running; }

private:
    void run(const std::function<Finish(const Wanted&)>& work, const Wanted& wanted);

    QThreadPool m_pool;
    std::shared_ptr<std::atomic<quint64>> m_latest; ///< number of the work that counts
    bool m_running = false;
};

} // namespace offshoot::ui
