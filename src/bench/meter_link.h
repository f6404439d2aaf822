// A bench meter that answers SCPI-1999 lines, over TCP, a serial port or a USB test-and-measurement device
// file. What it is asked with stands in a table (meter_commands.h).
//
// A few readings a second are enough for a person; the link asks again only after the answer, so a slow meter
// is never flooded. A meter that stops answering loses its reading rather than show an old one; a value
// counts only where what the meter measures was the same before and after it.
#pragma once

#include "bench/meter_commands.h"
#include "core/values/quantity.h"

#include <QElapsedTimer>
#include <QIODevice>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

namespace offshoot::bench {

/// Where a meter is: "192.0.2.7:5025", "bench-meter.local:5025", "/dev/ttyUSB0", "/dev/ttyUSB0 115200",
/// "/dev/usbtmc0"; behind it may stand which row of the table it is asked with: "/dev/ttyUSB0 as volts only".
struct MeterAddress
{
    QString host; ///< empty for a device
    quint16 port;
    QString device;
    qint32 baud;
    bool usb = false;      ///< a test-and-measurement device file
    QString commands = {}; ///< a row's name; empty: by what the meter calls itself, else the first row
};
Parsed<MeterAddress> readMeterAddress(const QString& text);

struct MeterReading
{
    double value; ///< SI unit of the quantity
    Quantity quantity;
};

/// What a meter answers where it can show nothing (SCPI-1999, volume 1).
inline constexpr double overload_reading = 9.9e37;

/// "volts", "amperes".
QString quantityWord(Quantity quantity);

/// The number of a READ? answer for a FUNC? answer; nothing for overload (9.9e37), for text that is no number
/// and for functions this program has no use for.
std::optional<MeterReading> readAnswer(const QByteArray& function, const QByteArray& value);

class MeterLink : public QObject
{
    Q_OBJECT

public:
    explicit MeterLink(QObject* parent = nullptr);

    /// The rows a meter is asked by; without them the standard ones.
    void setCommands(std::vector<MeterCommands> table) { m_table = std::move(table); }
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
    /// It goes on, and something about it is to be known: it measures something else, or answers nonsense.
    void noticed(const QString& text);

private:
    enum class Asked { Name, Function, Value, FunctionAgain };

    void open(std::unique_ptr<QIODevice> device);
    void begin();
    void ask(Asked what);
    void askFunctionOrValue();
    void take(const QByteArray& function);
    void receive();
    void answered(const QByteArray& line);
    void silent();
    void lost(const QString& why);

    std::unique_ptr<QIODevice> m_device;
    QTimer m_pause;
    QTimer m_patience;
    Asked m_asked = Asked::Name;
    QByteArray m_buffer;
    std::vector<MeterCommands> m_table;
    MeterCommands m_commands;
    QByteArray m_function;
    QByteArray m_value;
    QByteArray m_told;                  ///< what it said last that it measures
    int m_nonsense = 0;                 ///< answers in a row that do not read
    std::optional<Quantity> m_measured; ///< last
    QString m_name;
    std::optional<MeterReading> m_reading;
};

} // namespace offshoot::bench
