// A USB test-and-measurement device file (/dev/usbtmc0): a question is written whole, and reading waits for
// the answer, so both are done on a thread of their own.
#pragma once

#include <QIODevice>
#include <QThread>
#include <memory>

namespace offshoot::bench {

class TestDeviceWorker;

class TestDevice : public QIODevice
{
    Q_OBJECT

public:
    explicit TestDevice(const QString& path, QObject* parent = nullptr);
    ~TestDevice() override;
    bool open(OpenMode mode) override;
    void close() override;
    bool isSequential() const override { return true; }
    qint64 bytesAvailable() const override { return m_in.size() + QIODevice::bytesAvailable(); }

Q_SIGNALS:
    /// It cannot be read or written any more.
    void failed(const QString& why);
    void asked(const QByteArray& question);

protected:
    qint64 readData(char* data, qint64 most) override;
    qint64 writeData(const char* data, qint64 size) override;

private:
    QString m_path;
    QByteArray m_in;
    QThread* m_thread = nullptr; ///< ends by itself: it may be waiting for an answer
    TestDeviceWorker* m_worker = nullptr;
};

} // namespace offshoot::bench
