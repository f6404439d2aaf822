// offshoot-meter: a stand-in that answers like a bench meter, for trying Offshoot's live readings, alone or
// at the simulated unit of a job.
#include "bench/rehearsed_meter.h"
#include "core/values/quantity.h"

#include <unistd.h>

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QFile>
#include <QSocketNotifier>
#include <QTextStream>
#include <array>
#include <memory>

using namespace Qt::StringLiterals;
using namespace offshoot;

namespace {

/// Shows one value for good. False where it is no voltage, current or resistance.
bool showValue(bench::MeterStandIn& meter, const std::string& text)
{
    struct Function
    {
        const char* word;
        Quantity quantity;
    };
    // A bare 4k7 is ohms; volts and amperes carry their letter.
    static constexpr std::array functions{Function{"RES", Quantity::Resistance},
                                          Function{"VOLT", Quantity::Voltage},
                                          Function{"CURR", Quantity::Current}};
    for (const Function& function : functions)
        if (const auto value = parseValue(text, function.quantity)) {
            meter.show(function.word, value->value);
            constexpr double last_digits = 2e-4;
            meter.setRipple(last_digits);
            return true;
        }
    return false;
}

/// A job at its simulated unit: moves come on standard input, one a line, and are answered on standard
/// output.
std::unique_ptr<bench::RehearsedMeter> rehearse(bench::MeterStandIn& meter, const QCommandLineParser& parser)
{
    QFile file(parser.value(u"rehearse"_s));
    if (!file.open(QIODevice::ReadOnly))
        throw DocumentError(ErrorCode::Unreadable, {}, "cannot read " + file.fileName().toStdString());
    const Job job = readJob(file.readAll().toStdString());
    const auto seed = static_cast<std::uint64_t>(parser.value(u"unit"_s).toULongLong());
    const UnitFault fault = unitFaultFrom(parser.value(u"fault"_s).toStdString(), job, Draw(seed), "--fault");
    auto made = std::make_unique<bench::RehearsedMeter>(job, seed, fault);
    meter.showFrom([at = made.get()] { return at->shown(); });
    auto* typed = new QSocketNotifier(STDIN_FILENO, QSocketNotifier::Read, QCoreApplication::instance());
    QObject::connect(
        typed, &QSocketNotifier::activated, typed, [at = made.get(), typed, begun = QByteArray()]() mutable {
            std::array<char, 4096> more{};
            const ssize_t got = read(STDIN_FILENO, more.data(), more.size());
            if (got <= 0)
                return typed->setEnabled(false); // it goes on showing what it showed
            begun.append(more.data(), got);
            for (qsizetype end = begun.indexOf('\n'); end >= 0; end = begun.indexOf('\n')) {
                QTextStream(stdout) << QString::fromStdString(at->move(begun.first(end).toStdString()))
                                    << Qt::endl;
                begun.remove(0, end + 1);
            }
        });
    return made;
}

} // namespace

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    QCoreApplication::setApplicationName(u"offshoot-meter"_s);
    QCoreApplication::setApplicationVersion(QStringLiteral(OFFSHOOT_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        u"Answers SCPI questions like a bench meter: one value, or with --rehearse what its leads read at "
        "the simulated unit of a job, whose moves come on standard input."_s);
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(u"VALUE"_s, u"what it shows: 27.66V, 1.2A or 4k7"_s);
    parser.addOption({u"port"_s, u"TCP port on this machine"_s, u"PORT"_s, u"5025"_s});
    parser.addOption({u"serial"_s, u"answer at a serial device too, and say which"_s});
    parser.addOption({u"rehearse"_s, u"the job whose unit is simulated"_s, u"JOB"_s});
    parser.addOption({u"unit"_s, u"which unit is drawn"_s, u"SEED"_s, u"0"_s});
    parser.addOption({u"fault"_s, u"none, any, or one of its faults"_s, u"FAULT"_s, u"none"_s});
    parser.process(app);
    bench::MeterStandIn meter;
    QTextStream err(stderr);
    std::unique_ptr<bench::RehearsedMeter> rehearsed;
    QString shows = parser.positionalArguments().value(0, u"0V"_s);
    if (parser.isSet(u"rehearse"_s)) {
        try {
            rehearsed = rehearse(meter, parser);
        } catch (const DocumentError& error) {
            err << "offshoot-meter: " << error.what() << '\n';
            return 2;
        }
        shows = u"the unit of "_s + parser.value(u"rehearse"_s);
    } else if (!showValue(meter, shows.toStdString())) {
        err << "offshoot-meter: " << shows << " is no voltage, current or resistance\n";
        return 2;
    }
    if (!meter.listen(parser.value(u"port"_s).toUShort())) {
        err << "offshoot-meter: port " << parser.value(u"port"_s) << " is taken\n";
        return 1;
    }
    const QString serial = parser.isSet(u"serial"_s) ? meter.openSerial() : QString();
    err << "offshoot-meter: shows " << shows << (serial.isEmpty() ? u""_s : u" at "_s + serial + u" and"_s)
        << " at 127.0.0.1:" << meter.port() << Qt::endl; // seen before it serves
    return QCoreApplication::exec();
}
