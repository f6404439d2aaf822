// Answers like a bench meter on a TCP port: for trying the link, for tests and for practice without a meter.
#pragma once

#include <QByteArray>
#include <QObject>
#include <QTcpServer>

namespace offshoot::bench {

class MeterStandIn : public QObject
{
    Q_OBJECT

public:
    explicit MeterStandIn(QObject* parent = nullptr);
    /// Listens on the local machine; port 0 takes a free one. False when the port is taken.
    bool listen(quint16 port);
    quint16 port() const { return m_server.serverPort(); }
    /// What it shows: the function as FUNC? names it, the value in its unit.
    void show(const QByteArray& function, double value);
    /// Each reading is off by up to this share of the value, alternating; a meter's last digits do that.
    void setRipple(double share) { m_ripple = share; }
    /// Takes questions and says nothing, as a meter that hangs does.
    void setMute(bool mute) { m_mute = mute; }

private:
    QByteArray answer(const QByteArray& question);

    QTcpServer m_server;
    QByteArray m_function = "VOLT";
    double m_value = 0;
    double m_ripple = 0;
    bool m_up = false;
    bool m_mute = false;
};

} // namespace offshoot::bench
