#include "bench/meter_link.h"

#include <QSerialPort>
#include <QTcpSocket>
#include <array>
#include <chrono>
#include <cmath>

namespace offshoot::bench {

using namespace Qt::StringLiterals;
using namespace std::chrono_literals;

namespace {

constexpr auto pause_between = 150ms;
constexpr auto patience = 4s; // a slow range may integrate for seconds
constexpr qsizetype longest_line = 500;
constexpr double overload = 9.9e37; // SCPI-1999, volume 1
constexpr double zero_celsius_k = 273.15;
constexpr qint32 usual_baud = 9600;

std::optional<Quantity> quantityOf(const QByteArray& function)
{
    struct Row
    {
        const char* word;
        Quantity quantity;
    };
    // Longest first where one begins another.
    static constexpr std::array rows{
        Row{"VOLT", Quantity::Voltage},     Row{"CURR", Quantity::Current},
        Row{"FRES", Quantity::Resistance},  Row{"RES", Quantity::Resistance},
        Row{"CAP", Quantity::Capacitance},  Row{"FREQ", Quantity::Frequency},
        Row{"TEMP", Quantity::Temperature},
    };
    QByteArray plain = function.trimmed().toUpper();
    plain.replace('"', "");
    for (const Row& row : rows)
        if (plain.startsWith(row.word))
            return row.quantity;
    return std::nullopt;
}

} // namespace

Parsed<MeterAddress> readMeterAddress(const QString& text)
{
    const QStringList words = text.simplified().split(u' ', Qt::SkipEmptyParts);
    const auto wrong = [](const QString& why) {
        return Parsed<MeterAddress>(TextProblem{ErrorCode::Unreadable, 0, why.toStdString()});
    };
    if (words.isEmpty())
        return wrong(MeterLink::tr("Where is it? HOST:PORT or /dev/ttyUSB0"));
    bool number = false;
    if (words.front().startsWith(u'/')) {
        const qint32 baud = words.size() > 1 ? words[1].toInt(&number) : usual_baud;
        if (words.size() > 2 || (words.size() == 2 && (!number || baud <= 0)))
            return wrong(MeterLink::tr("Behind the serial port stands its speed, such as 9600."));
        return MeterAddress{{}, 0, words.front(), baud};
    }
    const qsizetype colon = words.front().lastIndexOf(u':');
    const quint16 port = words.front().mid(colon + 1).toUShort(&number);
    if (words.size() > 1 || colon < 1 || !number || port == 0)
        return wrong(MeterLink::tr("A network meter is HOST:PORT, such as 192.0.2.7:5025."));
    return MeterAddress{words.front().left(colon), port, {}, 0};
}

std::optional<MeterReading> readAnswer(const QByteArray& function, const QByteArray& value)
{
    const auto quantity = quantityOf(function);
    bool number = false;
    const double read = value.trimmed().toDouble(&number);
    if (!quantity || !number || !std::isfinite(read) || std::abs(read) >= overload * 0.99)
        return std::nullopt;
    return MeterReading{*quantity == Quantity::Temperature ? read + zero_celsius_k : read, *quantity};
}

MeterLink::MeterLink(QObject* parent)
    : QObject(parent)
{
    m_pause.setSingleShot(true);
    m_patience.setSingleShot(true);
    connect(&m_pause, &QTimer::timeout, this,
            [this] { ask(m_asked == Asked::Value ? Asked::Function : Asked::Value); });
    connect(&m_patience, &QTimer::timeout, this, &MeterLink::silent);
}

void MeterLink::attach(const MeterAddress& address)
{
    detach();
    if (address.host.isEmpty()) {
        auto port = std::make_unique<QSerialPort>(address.device);
        port->setBaudRate(address.baud);
        if (!port->open(QIODevice::ReadWrite))
            return lost(tr("The serial port %1 does not open: %2").arg(address.device, port->errorString()));
        connect(port.get(), &QSerialPort::errorOccurred, this,
                [this, raw = port.get()](QSerialPort::SerialPortError error) {
                    if (error == QSerialPort::ResourceError) // pulled out
                        lost(tr("The serial port: %1").arg(raw->errorString()));
                });
        m_device = std::move(port);
        connect(m_device.get(), &QIODevice::readyRead, this, &MeterLink::receive);
        return ask(Asked::Name);
    }
    auto socket = std::make_unique<QTcpSocket>();
    auto* raw = socket.get();
    m_device = std::move(socket);
    connect(raw, &QIODevice::readyRead, this, &MeterLink::receive);
    connect(raw, &QTcpSocket::connected, this, [this] { ask(Asked::Name); });
    connect(raw, &QTcpSocket::errorOccurred, this,
            [this, raw, address] { lost(tr("The meter at %1: %2").arg(address.host, raw->errorString())); });
    m_patience.start(patience);
    raw->connectToHost(address.host, address.port);
}

void MeterLink::detach()
{
    m_pause.stop();
    m_patience.stop();
    if (m_device) {
        m_device->disconnect(this);
        m_device.release()->deleteLater(); // it may be the one that called
    }
    m_buffer.clear();
    m_function.clear();
    m_name.clear();
    m_reading.reset();
    Q_EMIT changed();
}

void MeterLink::ask(Asked what)
{
    static constexpr std::array questions{"*IDN?\n", "FUNC?\n", "READ?\n"};
    m_asked = what;
    m_device->write(questions.at(static_cast<std::size_t>(what)));
    m_patience.start(patience);
}

void MeterLink::receive()
{
    m_buffer += m_device->readAll();
    for (qsizetype end = m_buffer.indexOf('\n'); end >= 0; end = m_buffer.indexOf('\n')) {
        const QByteArray line = m_buffer.left(end).trimmed();
        m_buffer.remove(0, end + 1);
        if (!line.isEmpty())
            answered(line);
    }
    if (m_buffer.size() > longest_line)
        m_buffer.clear(); // noise, not an answer
}

void MeterLink::answered(const QByteArray& line)
{
    m_patience.stop();
    switch (m_asked) {
    case Asked::Name:
        m_name = QString::fromLatin1(line).section(u',', 0, 1).simplified();
        return ask(Asked::Function);
    case Asked::Function:
        m_function = line;
        return ask(Asked::Value);
    case Asked::Value:
        m_reading = readAnswer(m_function, line);
        m_pause.start(pause_between);
        Q_EMIT changed();
    }
}

void MeterLink::silent()
{
    lost(m_name.isEmpty() ? tr("No meter answers there.") : tr("%1 stopped answering.").arg(m_name));
}

void MeterLink::lost(const QString& why)
{
    detach();
    Q_EMIT problem(why);
}

} // namespace offshoot::bench
