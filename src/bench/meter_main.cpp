// offshoot-meter: a stand-in that answers like a bench meter, for trying Offshoot's live readings.
#include "bench/meter_stand_in.h"
#include "core/values/quantity.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QTextStream>
#include <array>

using namespace Qt::StringLiterals;

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    QCoreApplication::setApplicationName(u"offshoot-meter"_s);
    QCoreApplication::setApplicationVersion(QStringLiteral(OFFSHOOT_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(u"Answers SCPI questions like a bench meter that shows one value."_s);
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(u"VALUE"_s, u"what it shows: 27.66V, 1.2A or 4k7"_s);
    parser.addOption({u"port"_s, u"TCP port on this machine"_s, u"PORT"_s, u"5025"_s});
    parser.process(app);
    const std::string text = parser.positionalArguments().value(0, u"0V"_s).toStdString();
    struct Function
    {
        const char* word;
        offshoot::Quantity quantity;
    };
    // A bare 4k7 is ohms; volts and amperes carry their letter.
    static constexpr std::array functions{Function{"RES", offshoot::Quantity::Resistance},
                                          Function{"VOLT", offshoot::Quantity::Voltage},
                                          Function{"CURR", offshoot::Quantity::Current}};
    offshoot::bench::MeterStandIn meter;
    bool understood = false;
    for (const Function& function : functions) {
        const auto value = offshoot::parseValue(text, function.quantity);
        if (!value || understood)
            continue;
        meter.show(function.word, value->value);
        understood = true;
    }
    QTextStream err(stderr);
    if (!understood) {
        err << "offshoot-meter: " << QString::fromStdString(text)
            << " is no voltage, current or resistance\n";
        return 2;
    }
    constexpr double last_digits = 2e-4;
    meter.setRipple(last_digits);
    if (!meter.listen(parser.value(u"port"_s).toUShort())) {
        err << "offshoot-meter: port " << parser.value(u"port"_s) << " is taken\n";
        return 1;
    }
    err << "offshoot-meter: shows " << QString::fromStdString(text) << " at 127.0.0.1:" << meter.port()
        << Qt::endl; // seen before it serves
    return QCoreApplication::exec();
}
