// A bench meter that answers SCPI-1999 lines, over TCP or a serial port: *IDN?, FUNC? and READ? in turn.
//
// A few readings a second are enough for a person; the link asks again only after the answer, so a slow meter
// is never flooded. A meter that stops answering loses its reading rather than show an old one.
#pragma once

#include "core/values/quantity.h"

#include <QElapsedTimer>
#include <QIODevice>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

namespace offshoot::bench {

/// Where a meter is: "192.0.2.7:5025", "bench-meter.local:5025", "/dev/ttyUSB0" or "/dev/ttyUSB0 115200".
struct MeterAddress
{
    QString host; ///< empty for a serial port
    quint16 port;
    QString device;
    qint32 baud;
};
Parsed<MeterAddress> readMeterAddress(const QString& text);

struct MeterReading
{
    double value; ///< SI unit of the quantity
    Quantity quantity;
};

/// The number of a READ? answer for a FUNC? answer; nothing for overload (9.9e37), for text that is no number
/// and for functions this program has no use for.
std::optional<MeterReading> readAnswer(const QByteArray& function, const QByteArray& value);

class MeterLink : public QObject
{
    Q_OBJECT

public:
    explicit MeterLink(QObject* parent = nullptr);

    void attach(const MeterAddress& address);
    void detach();
    bool attached() const { return m_device != nullptr; }
    /// What the meter calls itself; empty until it has answered.
    QString name() const { return m_name; }
    const std::optional<MeterReading>& reading() const { return m_reading; }

Q_SIGNALS:
    /// A reading was taken, or there is none any more.
    void changed();
    void problem(const QString& text);

private:
    enum class Asked { Name, Function, Value };

    void ask(Asked what);
    void receive();
    void answered(const QByteArray& line);
    void silent();
    void lost(const QString& why);

    std::unique_ptr<QIODevice> m_device;
    QTimer m_pause;
    QTimer m_patience;
    Asked m_asked = Asked::Name;
    QByteArray m_buffer;
    QByteArray m_function;
    QString m_name;
    std::optional<MeterReading> m_reading;
};

} // namespace offshoot::bench
