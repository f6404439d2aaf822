#include "bench/meter_stand_in.h"

#include <QTcpSocket>

namespace offshoot::bench {

MeterStandIn::MeterStandIn(QObject* parent)
    : QObject(parent)
{
    connect(&m_server, &QTcpServer::newConnection, this, [this] {
        QTcpSocket* socket = m_server.nextPendingConnection();
        connect(socket, &QTcpSocket::disconnected, socket, &QObject::deleteLater);
        connect(socket, &QTcpSocket::readyRead, this, [this, socket] {
            while (socket->canReadLine()) {
                const QByteArray said = answer(socket->readLine().trimmed());
                if (!said.isEmpty() && !m_mute)
                    socket->write(said + '\n');
            }
        });
    });
}

bool MeterStandIn::listen(quint16 port) { return m_server.listen(QHostAddress::LocalHost, port); }

void MeterStandIn::show(const QByteArray& function, double value)
{
    m_function = function;
    m_value = value;
}

QByteArray MeterStandIn::answer(const QByteArray& question)
{
    if (question == "*IDN?")
        return "Saltmarsh Point,Stand-in,0,1";
    if (question == "FUNC?")
        return '"' + m_function + '"';
    if (question != "READ?")
        return {};
    m_up = !m_up;
    return QByteArray::number(m_value * (1 + (m_up ? m_ripple : -m_ripple)), 'E', 8);
}

} // namespace offshoot::bench
