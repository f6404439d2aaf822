#include "bench/meter_stand_in.h"

#include "bench/meter_link.h"

#include <fcntl.h>
#include <termios.h>

#include <QFile>
#include <QSocketNotifier>
#include <QTcpSocket>
#include <cmath>
#include <cstdlib>

namespace offshoot::bench {

MeterStandIn::MeterStandIn(QObject* parent)
    : QObject(parent)
{
    connect(&m_server, &QTcpServer::newConnection, this, [this] {
        QTcpSocket* socket = m_server.nextPendingConnection();
        connect(socket, &QTcpSocket::disconnected, socket, &QObject::deleteLater);
        connect(socket, &QTcpSocket::readyRead, this, [this, socket] { serve(socket); });
    });
}

void MeterStandIn::serve(QIODevice* device)
{
    while (device->canReadLine()) {
        const QByteArray said = answer(device->readLine().trimmed());
        if (!said.isEmpty() && !m_mute)
            device->write(said + '\n');
    }
}

QString MeterStandIn::openSerial()
{
    const int meter = posix_openpt(O_RDWR | O_NOCTTY);
    if (meter < 0 || grantpt(meter) != 0 || unlockpt(meter) != 0)
        return {};
    const QString path = QString::fromLocal8Bit(ptsname(meter));
    termios plain{};
    tcgetattr(meter, &plain);
    cfmakeraw(&plain);
    tcsetattr(meter, TCSANOW, &plain);
    auto* kept_open = new QFile(path, this); // a device that nobody has open would report its end
    (void)kept_open->open(QIODevice::ReadWrite | QIODevice::Unbuffered);
    auto* device = new QFile(this);
    if (!device->open(meter, QIODevice::ReadWrite | QIODevice::Unbuffered, QFileDevice::AutoCloseHandle))
        return {};
    auto* asked = new QSocketNotifier(meter, QSocketNotifier::Read, this);
    connect(asked, &QSocketNotifier::activated, this, [this, device] {
        m_asked += device->read(1); // as it comes: a terminal has no end of file to look for
        if (!m_asked.endsWith('\n'))
            return;
        const QByteArray said = answer(m_asked.trimmed());
        m_asked.clear();
        if (!said.isEmpty() && !m_mute)
            device->write(said + '\n');
    });
    return path;
}

bool MeterStandIn::listen(quint16 port) { return m_server.listen(QHostAddress::LocalHost, port); }

void MeterStandIn::show(const QByteArray& function, double value)
{
    m_shown = [shown = Shown{function, value}] { return shown; };
}

QByteArray MeterStandIn::answer(const QByteArray& question)
{
    if (m_said)
        if (QByteArray said = m_said(question); !said.isEmpty())
            return said;
    if (question == "*IDN?")
        return "Saltmarsh Point,Stand-in,0,1";
    if (question == "FUNC?")
        return '"' + m_shown().function + '"';
    if (question != "READ?")
        return {};
    m_up = !m_up;
    const double value = m_shown().value;
    return QByteArray::number(
        std::isfinite(value) ? value * (1 + (m_up ? m_ripple : -m_ripple)) : overload_reading, 'E', 8);
}

} // namespace offshoot::bench
