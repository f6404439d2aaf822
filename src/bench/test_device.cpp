#include "bench/test_device.h"

#include <fcntl.h>
#include <poll.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <cstring>

namespace offshoot::bench {

/// Lives on the device's thread.
class TestDeviceWorker : public QObject
{
    Q_OBJECT

public:
    explicit TestDeviceWorker(int file)
        : m_file(file)
    {}
    ~TestDeviceWorker() override { ::close(m_file); }

    void ask(const QByteArray& question)
    {
        if (::write(m_file, question.constData(), static_cast<std::size_t>(question.size())) !=
            question.size())
            return fail();
        // The driver's own patience is five seconds; a device that says nothing is the link's to judge.
        constexpr int wait_ms = 3000;
        pollfd waits{.fd = m_file, .events = POLLIN, .revents = 0};
        if (::poll(&waits, 1, wait_ms) == 0)
            return;
        std::array<char, 4096> answer{};
        const ssize_t size = ::read(m_file, answer.data(), answer.size());
        if (size < 0 && errno != ETIMEDOUT)
            return fail();
        if (size > 0)
            Q_EMIT answered(QByteArray(answer.data(), size));
    }

Q_SIGNALS:
    void answered(const QByteArray& bytes);
    void failed(const QString& why);

private:
    void fail() { Q_EMIT failed(QString::fromLocal8Bit(std::strerror(errno))); }

    int m_file;
};

TestDevice::TestDevice(const QString& path, QObject* parent)
    : QIODevice(parent)
    , m_path(path)
{}

TestDevice::~TestDevice() { close(); }

bool TestDevice::open(OpenMode mode)
{
    const int file = ::open(m_path.toLocal8Bit().constData(), O_RDWR | O_NOCTTY | O_CLOEXEC);
    if (file < 0) {
        setErrorString(QString::fromLocal8Bit(std::strerror(errno)));
        return false;
    }
    m_worker = new TestDeviceWorker(file);
    m_thread = new QThread;
    m_worker->moveToThread(m_thread);
    connect(m_thread, &QThread::finished, m_worker, &QObject::deleteLater);
    connect(m_thread, &QThread::finished, m_thread, &QObject::deleteLater);
    connect(this, &TestDevice::asked, m_worker, &TestDeviceWorker::ask);
    connect(m_worker, &TestDeviceWorker::answered, this, [this](const QByteArray& bytes) {
        m_in += bytes;
        Q_EMIT readyRead();
    });
    connect(m_worker, &TestDeviceWorker::failed, this, &TestDevice::failed);
    m_thread->start();
    return QIODevice::open(mode | QIODevice::Unbuffered);
}

void TestDevice::close()
{
    if (!isOpen())
        return;
    QIODevice::close();
    m_thread->quit();
    m_thread = nullptr;
    m_worker = nullptr;
}

qint64 TestDevice::readData(char* data, qint64 most)
{
    const qint64 size = std::min(most, static_cast<qint64>(m_in.size()));
    std::memcpy(data, m_in.constData(), static_cast<std::size_t>(size));
    m_in.remove(0, size);
    return size;
}

qint64 TestDevice::writeData(const char* data, qint64 size)
{
    Q_EMIT asked(QByteArray(data, size));
    return size;
}

} // namespace offshoot::bench

#include "test_device.moc"
