// Answers like a bench meter on a TCP port, and at a serial device: for trying the link, for tests and for
// practice without a meter.
#pragma once

#include <QByteArray>
#include <QObject>
#include <QTcpServer>
#include <functional>

namespace offshoot::bench {

class MeterStandIn : public QObject
{
    Q_OBJECT

public:
    explicit MeterStandIn(QObject* parent = nullptr);
    /// Listens on the local machine; port 0 takes a free one. False when the port is taken.
    bool listen(quint16 port);
    quint16 port() const { return m_server.serverPort(); }
    /// Opens a serial device of its own (a pseudo-terminal); its path, empty where there is none to be had.
    QString openSerial();
    /// What it shows: the function as FUNC? names it, the value in its unit; infinite for overload.
    struct Shown
    {
        QByteArray function;
        double value;
    };
    void show(const QByteArray& function, double value);
    /// Asked anew for each reading.
    void showFrom(std::function<Shown()> shown) { m_shown = std::move(shown); }
    /// What it says to a question instead; an empty answer leaves it as usual.
    void answerFrom(std::function<QByteArray(const QByteArray&)> said) { m_said = std::move(said); }
    /// Each reading is off by up to this share of the value, alternating; a meter's last digits do that.
    void setRipple(double share) { m_ripple = share; }
    /// Takes questions and says nothing, as a meter that hangs does.
    void setMute(bool mute) { m_mute = mute; }

private:
    void serve(QIODevice* device);
    QByteArray answer(const QByteArray& question);

    QTcpServer m_server;
    std::function<Shown()> m_shown = [] { return Shown{"VOLT", 0}; };
    std::function<QByteArray(const QByteArray&)> m_said;
    QByteArray m_asked; ///< at the serial device, so far
    double m_ripple = 0;
    bool m_up = false;
    bool m_mute = false;
};

} // namespace offshoot::bench
