// What is taken of anything that is typed by itself: values, networks, markings, chains, lines read off parts
// and plates, right and wrong.
#include "core/calculate/capture_file.h"
#include "core/kinds/chain/chain_view.h"
#include "core/supply/part_figures.h"
#include "core/supply/shelf.h"
#include "core/values/marking.h"
#include "core/values/network.h"
#include "support/golden.h"

#include <QRegularExpression>
#include <map>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;
using test::Told;

namespace {

std::string refused(const TextProblem& problem)
{
    return "! " + std::to_string(problem.position) + ": " + problem.message;
}

} // namespace

class TestTyped : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Numbers of every form with units of every form, as every quantity: what takes it, and how the others
    /// refuse it.
    void values()
    {
        Told told;
        const std::vector<std::string> numbers{
            "4",   "4.7", "4,7", ".5", "4,700", "0,700", "123,456", "1234,567", "1.2.3", "1e3", "1e",
            "1/4", "1/0", "1/",  "/4", "-3",    "−3",    "- 3",     "+3",       "4-5",   "0",   ""};
        const std::vector<std::string> units{
            "",    "k",   "K",  "M",   "m",    "u",   "µ",  "n",   "p",   "R",  "Ω",  "kohm", "F",
            "mF",  "MF",  "mf", "mfd", "mmfd", "uF",  "H",  "mH",  "V",   "kV", "mv", "VA",   "W",
            "mW",  "A",   "mA", "Hz",  "kHz",  "s",   "ms", "min", "h",   "d",  "mm", "cm",   "in",
            "mm2", "AWG", "J",  "Wh",  "kWs",  "A2s", "C",  "°C",  "K/W", "%",  "x"};
        for (const std::string& number : numbers) {
            std::set<std::string> problems;
            for (const std::string& unit : units) {
                const std::string text = number + unit;
                std::string taken;
                for (std::size_t i = 0; i < Words<Quantity>::list.size(); ++i) {
                    const auto quantity = static_cast<Quantity>(i);
                    if (const auto parsed = parseValue(text, quantity))
                        taken += (taken.empty() ? "" : ", ") + std::string(word(quantity)) + ' ' +
                                 Told::text(parsed->value);
                    else
                        problems.insert(refused(parsed.problem()));
                }
                told.line(text, taken);
            }
            for (const std::string& problem : problems)
                told.line("  " + problem);
        }
        test::compareGolden(u"read/values.txt"_s, told.text());
    }

    /// Networks of resistors, and several of these with names.
    void networks()
    {
        Told told;
        for (const char* text : {"10k",
                                 "10k+4k7",
                                 "10k||4k7",
                                 "10k || 4k7 + 1k",
                                 "(10k+1k)||4k7",
                                 "(10k",
                                 "10k)",
                                 "10k||",
                                 "||10k",
                                 "10k++1k",
                                 "2x15R",
                                 "0x15R",
                                 "1000x1R",
                                 "2x(1k+1k)",
                                 "10k//4k7",
                                 "10k|4k7",
                                 "10k 4k7",
                                 "((1k))",
                                 "1k+(2k||(3k+4k))",
                                 "0",
                                 "1k||0",
                                 "10k 1%",
                                 "R1"}) {
            const auto network = parseNetwork(text);
            told.line(text, network ? network->text() + " = " + Told::text(network->ohm())
                                    : refused(network.problem()));
            if (network)
                told.line("  ", network->prettyText(), network->ohmScaled(0.1), network->parts().size());
        }
        for (const char* text : {"R1", "R1||R9", "R1+R_2", "(R1+R2)||R3", "R1R2", "R1+", "1R", "_R",
                                 "R1||10k", "R1 || R1", "(R1", "Ré"}) {
            const auto named = parseNamedNetwork(text);
            told.line(text, named ? Told::text(named->names.size()) + " " + named->names.back()
                                  : refused(named.problem()));
        }
        test::compareGolden(u"read/networks.txt"_s, told.text());
    }

    /// Bands, codes of chips and of capacitors: two to seven of them, what is read, what else it may be.
    void markings()
    {
        Told told;
        const auto tell = [&told](const MarkingReadInput& in, const std::string& text) {
            try {
                told.line(word(in.kind), text,
                          Told::text(writeJson(markingRead(readJson<MarkingReadInput>(writeJson(in))))));
            } catch (const DocumentError& error) {
                told.line(word(in.kind), text, "! " + std::string(error.what()));
            }
        };
        for (const char* text :
             {"0",   "000", "0000",  "100",  "103",  "104",      "999",     "1002",   "4701",  "9999",
              "R47", "4R7", "47R",   "R047", "4K7",  "M10",      "01A",     "18C",    "96F",   "97A",
              "01X", "47N", "4N7",   "104K", "104J", "223M 50V", "105K 1H", "2A104K", "1H103", "108",
              "109", "229", "4p7",   "100n", "1u",   "0.1",      ".022",    "6806",   "9089",  "860",
              "abc", "12",  "12345", "",     "1-3",  "é03"})
            for (const MarkingKind kind : {MarkingKind::Smd, MarkingKind::Capacitor})
                tell({.kind = kind, .bands = {}, .text = text}, text);
        for (const QString& line : {u"black"_s,
                                    u"red"_s,
                                    u"brown black"_s,
                                    u"brown black red"_s,
                                    u"yellow violet red gold"_s,
                                    u"gold red violet yellow"_s,
                                    u"brown black gold silver"_s,
                                    u"brown black black red brown"_s,
                                    u"orange orange black brown violet"_s,
                                    u"brown red orange yellow green blue"_s,
                                    u"red red black brown brown red"_s,
                                    u"white white white white white"_s,
                                    u"pink red red gold"_s,
                                    u"grey red brown gold"_s,
                                    u"gray red brown gold"_s,
                                    u"purple red brown gold"_s,
                                    u"brown black black black"_s,
                                    u"brown green silver gold"_s,
                                    u"gold gold gold gold"_s,
                                    u"red red red red red red red"_s}) {
            std::vector<Colour> bands;
            for (const QString& band : line.split(u' '))
                bands.push_back(
                    static_cast<Colour>(std::ranges::find(Words<Colour>::list, band.toStdString()) -
                                        Words<Colour>::list.begin()));
            tell({.kind = MarkingKind::Bands, .bands = bands, .text = {}}, line.toStdString());
        }
        for (const double value :
             {0.0,  0.001, 0.0022, 0.01,  0.047, 0.22,  0.47,   1.0,    2.2,    4.7, 10.0,  22.0,
              47.5, 100.0, 470.0,  499.0, 1e3,   4.7e3, 10.2e3, 1.21e6, 9.76e6, 1e9, 9.9e9, 1e11})
            for (const MarkingKind kind : {MarkingKind::Bands, MarkingKind::Smd})
                for (const std::optional<double>& tolerance :
                     {std::optional<double>(), std::optional(0.05), std::optional(0.01)})
                    for (std::size_t style = 0; style < Words<SmdStyle>::list.size(); ++style) {
                        if (kind == MarkingKind::Bands && style > 0)
                            continue;
                        const MarkingWriteInput in{.kind = kind,
                                                   .value = value,
                                                   .tolerance = tolerance,
                                                   .tempco_per_k = {},
                                                   .count = {},
                                                   .style = static_cast<SmdStyle>(style)};
                        std::string says;
                        try {
                            says = Told::text(
                                writeJson(markingWrite(readJson<MarkingWriteInput>(writeJson(in)))));
                        } catch (const DocumentError& error) {
                            says = "! " + std::string(error.what());
                        }
                        told.line("write", kind, value, tolerance, in.style, says);
                    }
        test::compareGolden(u"read/markings.txt"_s, told.text());
    }

    /// Rectifier chains of up to three sections: which can be simulated, and what is wrong with the others.
    void chains()
    {
        Told told;
        const std::vector<std::pair<char, SmoothingSection>> sections{
            {'C', {.kind = SmoothingKind::C, .c_f = 1e-3, .esr_ohm = 0.1}},
            {'c', {.kind = SmoothingKind::C, .c_f = 1e-3}},
            {'v', {.kind = SmoothingKind::C, .c_f = 1e-3, .v0_v = 5}},
            {'L', {.kind = SmoothingKind::L, .l_h = 0.1, .r_ohm = 1}},
            {'R', {.kind = SmoothingKind::R, .r_ohm = 10}}};
        const auto tell = [&told](RectifierChain chain, const std::string& names) {
            for (const bool inductance : {false, true}) {
                std::map<std::string, std::string> says; // and of which loads, the last four with a tap
                int number = 0;
                for (const bool tapped : {false, true})
                    for (const SimLoad& load :
                         {SimLoad{.resistance_ohm = 100}, SimLoad{.current_a = 0.1},
                          SimLoad{.power_w = 1, .v_min_v = 5}, SimLoad{.power_w = 9, .v_min_v = 0.9}}) {
                        chain.source.l_h = inductance ? std::optional(1e-3) : std::nullopt;
                        chain.load = load;
                        chain.tap_loads.clear();
                        if (tapped)
                            chain.tap_loads.push_back({.section = 1, .load = load});
                        ++number;
                        try {
                            (void)readJson<RectifierChain>(writeJson(chain));
                            says["good"] += std::to_string(number);
                        } catch (const DocumentError& error) {
                            says[error.what()] += std::to_string(number);
                        }
                    }
                std::string all;
                for (const auto& [message, loads] : says)
                    all += ' ' + loads + ' ' + message;
                told.line(word(chain.rectifier.kind), names, inductance, all);
            }
        };
        for (const SimRectifier kind : {SimRectifier::Bridge, SimRectifier::Doubler}) {
            RectifierChain chain = usualChain(kind, Job{});
            chain.filter.clear();
            tell(chain, "");
            for (const auto& [a, first] : sections) {
                chain.filter = {first};
                tell(chain, std::string{a});
                for (const auto& [b, second] : sections) {
                    chain.filter = {first, second};
                    tell(chain, std::string{a, b});
                    for (const auto& [c, third] : sections) {
                        chain.filter = {first, second, third};
                        tell(chain, std::string{a, b, c});
                    }
                }
            }
        }
        test::compareGolden(u"read/chains.txt"_s, told.text());
    }

    /// Files of oscilloscopes as they come: with headings and units or without, separated and ended by one
    /// sign or another, short, torn or with words where numbers belong.
    void files()
    {
        Told told;
        const auto lines = [](const std::string& separator, const std::string& end, int count, bool comma) {
            std::string made;
            for (int i = 0; i < count; ++i) {
                std::string line = "0.0" + std::to_string(10 + i) + separator + std::to_string(i % 3) + ".5" +
                                   separator + std::to_string(i);
                if (comma)
                    std::ranges::replace(line, '.', ',');
                made += line + end;
            }
            return made;
        };
        const std::vector<std::string> heads{"",
                                             "time,CH1,CH2\n",
                                             "Time (s),CH1 (V),CH2 (mA)\n",
                                             "Time,CH1,CH2\ns,mV,A\n",
                                             "# made by nobody\nTime [ms],Volts [V],\n",
                                             "x-axis,1,2\nsecond,Volt,Volt\n",
                                             "Model,none\nPoints,20\n\nTime,CH1,CH2\n",
                                             "\xEF\xBB\xBF\"Time\",\"CH1\",\"CH2\"\n",
                                             "Time;CH1;CH2\r\n",
                                             "Time\tCH1\tCH2\n"};
        for (const std::string& head : heads)
            for (const std::string separator : {",", ";", "\t", ", "})
                for (const std::string end : {"\n", "\r\n", ",\n", ",,\n", ";\n"})
                    for (const bool comma : {false, true}) {
                        if (comma && separator.front() == ',')
                            continue;
                        std::string says;
                        const std::string csv = head + lines(separator, end, 20, comma);
                        try {
                            for (const CaptureHeading& heading : captureHeadings(csv))
                                says += heading.name + "[" + heading.unit + "]" +
                                        Told::text(heading.quantity) + "*" + Told::text(heading.factor) + " ";
                        } catch (const DocumentError& error) {
                            says += std::string("! ") + error.what();
                        }
                        for (const CaptureColumnName& column :
                             {CaptureColumnName(std::int64_t{1}), CaptureColumnName(std::int64_t{2}),
                              CaptureColumnName(std::int64_t{3}), CaptureColumnName("CH2")})
                            try {
                                const CaptureTrace trace = readCapture(csv, column);
                                says += "; " + Told::text(trace.from_s) + " " + Told::text(trace.dt_s) + " " +
                                        Told::text(trace.values.size()) + " " +
                                        Told::text(trace.values.back());
                            } catch (const DocumentError& error) {
                                says += std::string("; ! ") + error.what();
                            }
                        told.line(Json(head + "|" + separator + "|" + end).dump(), comma, says);
                    }
        for (const int count : {0, 1, 15, 16})
            try {
                told.line(count,
                          readCapture(lines(",", "\n", count, false), CaptureColumnName(std::int64_t{1}))
                              .values.size());
            } catch (const DocumentError& error) {
                told.line(count, error.what());
            }
        for (const char* wrong :
             {"0.03,abc,1\n", "0.03\n", "0.01,1,1\n", "0.5,1,1\n", "\n", "0.03,1e400,1\n", "0.03,,\n"})
            try {
                told.line(Json(wrong).dump(),
                          readCapture(lines(",", "\n", 20, false) + wrong + lines(",", "\n", 2, false),
                                      CaptureColumnName(std::int64_t{1}))
                              .values.size());
            } catch (const DocumentError& error) {
                told.line(Json(wrong).dump(), error.what());
            }
        test::compareGolden(u"read/files.txt"_s, told.text());
    }

    /// What each part of a board is taken to say, of a supply with two rails.
    void parts()
    {
        Told told;
        Supply supply;
        supply.rails.resize(2);
        for (std::size_t i = 0; i < board_part_count; ++i)
            for (const char* text : {"12V 1000u 25V 105C",
                                     "470uF 16V 10V",
                                     "470uF 25V 25V 25V",
                                     "400V 150u",
                                     "T2A 250V",
                                     "T2AL250V",
                                     "2AL0V",
                                     "2AL9V9V",
                                     "FF1A6",
                                     "2A T",
                                     "10A 4A 6A",
                                     "330k",
                                     "red red red gold 1W",
                                     "red red",
                                     "red red red red red red red",
                                     "2k2 1/4W 1/2W",
                                     "650",
                                     "650V 8A",
                                     "-650V",
                                     "0",
                                     "4.5 0.6",
                                     "150V 10A",
                                     "none",
                                     "None",
                                     "none 12V",
                                     "15V",
                                     "24V 2A5",
                                     "9V5 20V 0.5",
                                     "10mH 2A",
                                     "100 W",
                                     "47 25V",
                                     "85C",
                                     "20ms",
                                     "",
                                     "nonsense",
                                     "4k7 5%",
                                     "4 8 15 16 23 42"}) {
                const auto part = static_cast<BoardPart>(i);
                const auto read = readPartLine(supply, part, text);
                told.line(part, text, read ? read->echo : refused(read.problem()));
                if (!read)
                    continue;
                Supply taken = supply;
                takePartLine(taken, 0, part, *read);
                Supply last = supply;
                takePartLine(last, 7, part, *read); // a place that is gone: the last rail
                std::string at;
                for (const auto& [figure, value] : read->figures)
                    at += ' ' + Told::text(*figure->read(taken, 0)) + '/' +
                          Told::text(figure->read(taken, 1)) + '/' + Told::text(figure->read(last, 1));
                told.line("  " + at, isAbsent(taken, 0, part), taken.rails[0].v_v, taken.rails[1].v_v);
            }
        test::compareGolden(u"read/parts.txt"_s, told.text());
    }

    /// What is taken of a plate that is typed, with each of its words not there, twice, at nothing, below
    /// nothing, a ninth and ninefold.
    void plates()
    {
        Told told;
        const auto tell = [&told](const QStringList& words) {
            const std::string text = words.join(u' ').toStdString();
            const auto entry = readPlateLine(text);
            told.line(text, entry
                                ? shelfWords(*entry)
                                : std::to_string(entry.problem().position) + ": " + entry.problem().message);
        };
        tell({u"5V"_s, u"1A"_s, u"5V"_s, u"2A"_s, u"5V"_s, u"3A"_s, u"100-240V"_s});
        for (const QString& many : {u"x1"_s, u"x"_s, u"x9999"_s, u"x10000"_s, u"x0001"_s})
            tell({u"5V"_s, u"1A"_s, u"100-240V"_s, many});
        for (
            const QString& line :
            {u"24V 4.2A peak 5A 100-240V class 1 129x97x30 trim 21.6-28.8 screws 4mm"_s,
             u"Oyster 75: 5V 8A least 0.5A ±3% -12V 500mA bonded negative 75W 115/230V 47-63Hz enable low x2"_s,
             u"Sprat: 5V 1A ripple 50mV isolated dc 7-28V 2x1.4x0.6cm 350g 88%"_s}) {
            const QStringList words = line.split(u' ');
            tell(words);
            static const QRegularExpression figure(u"[0-9.]+"_s);
            for (qsizetype at = 0; at < words.size(); ++at) {
                QStringList other = words;
                other.removeAt(at);
                tell(other);
                other.insert(at, words[at]);
                other.insert(at, words[at]);
                tell(other);
                other = words;
                for (const QRegularExpressionMatch& found : figure.globalMatch(words[at]))
                    for (const double times : {0.0, -1.0, 1 / 9.0, 9.0}) {
                        other[at] = words[at];
                        other[at].replace(found.capturedStart(), found.capturedLength(),
                                          QString::number(times * found.captured().toDouble(), 'g', 6));
                        tell(other);
                    }
            }
        }
        test::compareGolden(u"read/plates.txt"_s, told.text());
    }
};

REGISTER_TEST(TestTyped, void)
#include "tst_typed.moc"
