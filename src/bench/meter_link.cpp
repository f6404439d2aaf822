#include "bench/meter_link.h"

#include "bench/test_device.h"

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

QString quantityWord(Quantity quantity)
{
    switch (quantity) {
    case Quantity::Voltage:
        return MeterLink::tr("volts");
    case Quantity::Current:
        return MeterLink::tr("amperes");
    case Quantity::Resistance:
        return MeterLink::tr("ohms");
    case Quantity::Capacitance:
        return MeterLink::tr("farads");
    case Quantity::Frequency:
        return MeterLink::tr("hertz");
    case Quantity::Temperature:
        return MeterLink::tr("degrees");
    default:
        return QString::fromUtf8(word(quantity).data(), static_cast<qsizetype>(word(quantity).size()));
    }
}

Parsed<MeterAddress> readMeterAddress(const QString& text)
{
    const QString all = text.simplified();
    const qsizetype as = all.indexOf(u" as "_s);
    const QStringList words = all.left(as).split(u' ', Qt::SkipEmptyParts);
    const QString commands = as < 0 ? QString() : all.mid(as + 4);
    const auto wrong = [](const QString& why) {
        return Parsed<MeterAddress>(TextProblem{ErrorCode::Unreadable, 0, why.toStdString()});
    };
    if (words.isEmpty())
        return wrong(MeterLink::tr("Where is it? HOST:PORT, /dev/ttyUSB0 or /dev/usbtmc0"));
    bool number = false;
    if (words.front().startsWith(u"/dev/usbtmc"_s) || words.front().startsWith(u"usb:/"_s)) {
        if (words.size() > 1)
            return wrong(MeterLink::tr("A USB meter has no speed."));
        const QString path = words.front().startsWith(u'/') ? words.front() : words.front().mid(4);
        return MeterAddress{{}, 0, path, 0, true, commands};
    }
    if (words.front().startsWith(u'/')) {
        const qint32 baud = words.size() > 1 ? words[1].toInt(&number) : usual_baud;
        if (words.size() > 2 || (words.size() == 2 && (!number || baud <= 0)))
            return wrong(MeterLink::tr("Behind the serial port stands its speed, such as 9600."));
        return MeterAddress{{}, 0, words.front(), baud, false, commands};
    }
    const qsizetype colon = words.front().lastIndexOf(u':');
    const quint16 port = words.front().mid(colon + 1).toUShort(&number);
    if (words.size() > 1 || colon < 1 || !number || port == 0)
        return wrong(MeterLink::tr("A network meter is HOST:PORT, such as 192.0.2.7:5025."));
    return MeterAddress{words.front().left(colon), port, {}, 0, false, commands};
}

std::optional<MeterReading> readAnswer(const QByteArray& function, const QByteArray& value)
{
    const auto quantity = quantityOf(function);
    bool number = false;
    const double read = value.trimmed().toDouble(&number);
    if (!quantity || !number || !std::isfinite(read) || std::abs(read) >= overload_reading * 0.99)
        return std::nullopt;
    return MeterReading{*quantity == Quantity::Temperature ? read + zero_celsius_k : read, *quantity};
}

MeterLink::MeterLink(QObject* parent)
    : QObject(parent)
{
    m_pause.setSingleShot(true);
    m_patience.setSingleShot(true);
    connect(&m_pause, &QTimer::timeout, this, [this] { ask(Asked::Value); });
    connect(&m_patience, &QTimer::timeout, this, &MeterLink::silent);
}

void MeterLink::attach(const MeterAddress& address)
{
    detach();
    m_commands = m_table.empty() ? MeterCommands{} : m_table.front();
    if (!address.commands.isEmpty()) {
        const MeterCommands* row = commandsNamed(m_table, address.commands);
        if (row == nullptr)
            return lost(tr("The table of meters has no row %1.").arg(address.commands));
        m_commands = *row;
    }
    if (address.usb) {
        auto device = std::make_unique<TestDevice>(address.device);
        if (!device->open(QIODevice::ReadWrite))
            return lost(tr("%1 does not open: %2").arg(address.device, device->errorString()));
        connect(device.get(), &TestDevice::failed, this,
                [this, address](const QString& why) { lost(tr("%1: %2").arg(address.device, why)); });
        open(std::move(device));
        return begin();
    }
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
        open(std::move(port));
        return begin();
    }
    auto socket = std::make_unique<QTcpSocket>();
    auto* raw = socket.get();
    open(std::move(socket));
    connect(raw, &QTcpSocket::connected, this, &MeterLink::begin);
    connect(raw, &QTcpSocket::errorOccurred, this,
            [this, raw, address] { lost(tr("The meter at %1: %2").arg(address.host, raw->errorString())); });
    m_patience.start(patience);
    raw->connectToHost(address.host, address.port);
}

void MeterLink::open(std::unique_ptr<QIODevice> device)
{
    m_device = std::move(device);
    connect(m_device.get(), &QIODevice::readyRead, this, &MeterLink::receive);
}

void MeterLink::begin()
{
    if (m_commands.identify.isEmpty())
        askFunctionOrValue();
    else
        ask(Asked::Name);
}

/// One that always measures the same is not asked what.
void MeterLink::askFunctionOrValue()
{
    if (!m_commands.function.startsWith('='))
        return ask(Asked::Function);
    m_function = m_commands.function.mid(1);
    ask(Asked::Value);
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
    m_measured.reset();
    m_told.clear();
    m_nonsense = 0;
    Q_EMIT changed();
}

void MeterLink::ask(Asked what)
{
    m_asked = what;
    const QByteArray& question = what == Asked::Name    ? m_commands.identify
                                 : what == Asked::Value ? m_commands.value
                                                        : m_commands.function;
    m_device->write(question + m_commands.ends);
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
        if (const MeterCommands* row = commandsFor(m_table, QString::fromLatin1(line)))
            m_commands = *row;
        return askFunctionOrValue();
    case Asked::Function:
        m_function = line;
        return ask(Asked::Value);
    case Asked::Value:
        m_value = line;
        return m_commands.function.startsWith('=') ? take(m_function) : ask(Asked::FunctionAgain);
    case Asked::FunctionAgain:
        take(line);
    }
}

/// The value counts where the meter measured the same before and after it.
void MeterLink::take(const QByteArray& function)
{
    constexpr int patient_with = 3;
    const bool same = function == m_function;
    m_function = function;
    m_pause.start(pause_between);
    const QString name = m_name.isEmpty() ? tr("The meter") : m_name;
    // One that tells its range with its function, "VOLT +1.0E+01,+3.0E-06", has changed it where only that
    // differs.
    const auto now = quantityOf(function);
    if (!m_told.isEmpty() && function != m_told && now && now == quantityOf(m_told))
        Q_EMIT noticed(tr("%1 has changed its range.").arg(name));
    m_told = function;
    if (!same) {
        m_reading.reset();
        Q_EMIT changed();
        return;
    }
    m_reading = readAnswer(function, m_value);
    bool number = false;
    (void)m_value.trimmed().toDouble(&number);
    m_nonsense = number ? 0 : m_nonsense + 1;
    if (m_nonsense == patient_with)
        Q_EMIT noticed(tr("%1 answers what cannot be read: %2")
                           .arg(name, QString::fromLatin1(m_value.left(40)).simplified()));
    if (m_reading) {
        if (m_measured && *m_measured != m_reading->quantity)
            Q_EMIT noticed(tr("%1 reads %2 now.").arg(name, quantityWord(m_reading->quantity)));
        m_measured = m_reading->quantity;
    }
    Q_EMIT changed();
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
