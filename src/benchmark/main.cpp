// offshoot-bench: how fast the figures are that a person waits for, each beside its budget and, where there
// is one, a plain reference done in the same run. Best of several runs: other work on the machine only adds.
// Machines differ: each time is also told in yards, a fixed piece of arithmetic timed first.
#include "core/calculate/capture.h"
#include "core/calculate/divider_search.h"
#include "core/calculate/divider_tolerance.h"
#include "core/calculate/filter_response.h"
#include "core/calculate/fit_place.h"
#include "core/calculate/rectifier.h"
#include "core/calculate/rectifier_spread.h"
#include "core/calculate/units_match.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/hiccup_view.h"
#include "core/kinds/current_limit/current_limit_view.h"
#include "core/kinds/dummy_load/dummy_load_view.h"
#include "core/kinds/joined/bus_view.h"
#include "core/kinds/kind.h"
#include "core/kinds/rewind/rewind_view.h"
#include "core/kinds/trim/trim_view.h"
#include "core/kinds/wire/wire_view.h"
#include "core/rehearse/bench.h"
#include "core/supply/shelf.h"
#include "ui/frame/main_window.h"
#include "ui/shipped.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QProcess>
#include <QStyleFactory>
#include <QTemporaryDir>
#include <QWindow>
#include <chrono>
#include <fstream>
#include <iomanip>
#include <iostream>
#include <limits>
#include <map>
#include <random>

using namespace offshoot;
using namespace Qt::StringLiterals;
using namespace std::string_literals;

namespace {

double bestMs(int runs, const std::function<void()>& work)
{
    double best = std::numeric_limits<double>::infinity();
    for (int i = 0; i < runs; ++i) {
        const auto from = std::chrono::steady_clock::now();
        work();
        best = std::min(
            best, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count());
    }
    return best;
}

bool every_budget_met = true;
double yard_ms = 0;

/// Half a million steps of a damped swing: no memory, no library, the same work everywhere.
double swing()
{
    constexpr int steps = 500'000;
    double x = 1;
    double v = 0;
    for (int i = 0; i < steps; ++i) {
        v -= 1e-3 * (x + 0.01 * v);
        x += 1e-3 * v;
    }
    return x;
}

void measureYard()
{
    double sink = 0;
    yard_ms = bestMs(20, [&] { sink += swing(); });
    std::cout << "a yard is " << std::fixed << std::setprecision(2) << yard_ms << " ms here"
              << (sink == 0 ? "." : "") << '\n';
}

void print(const std::string& what, double value, double budget, const std::string& unit,
           double reference = 0)
{
    std::cout << std::left << std::setw(58) << what << std::right << std::fixed << std::setprecision(2)
              << std::setw(10) << value << ' ' << std::left << std::setw(3) << unit << " budget "
              << std::right << std::setprecision(0) << std::setw(4) << budget;
    if (unit == "ms")
        std::cout << std::setprecision(2) << std::setw(8) << value / yard_ms << " yards";
    if (reference > 0)
        std::cout << "   plain " << std::setprecision(1) << std::setw(9) << reference << ' ' << unit << ", "
                  << std::setprecision(1) << reference / value << " times as long";
    every_budget_met = every_budget_met && value <= budget;
    std::cout << (value <= budget ? "" : "   OVER") << std::endl;
}

DividerSolveInput search(Series series, std::int64_t parts)
{
    DividerSolveInput in{
        .divider = {.reference = {.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6},
                    .top = Network(22e3),
                    .bottom = Network(2550),
                    .found_tolerance = 0.01},
        .target = {27.6, 27.3, 27.9},
        .stock = stockOf({.name = series, .from_ohm = 1, .to_ohm = 1e6, .tolerance = 0.01, .power_w = 0.25}),
        .before = {}};
    in.max_parts = parts;
    return in;
}

/// Every network of up to three parts by every method, and only the best error kept: the plain reference.
double exhaustive(const DividerSolveInput& in)
{
    const Legs legs = in.divider.nominal();
    double best = std::numeric_limits<double>::infinity();
    const auto try_ohm = [&](double ohm) {
        for (DividerMethod method : in.methods) {
            const Legs changed = withAdded(method, legs, ohm);
            if (!runsAway(changed))
                best = std::min(best, std::abs(dividerVoltage(2.495, 2e-6, changed) - in.target.v));
        }
    };
    const auto& stock = in.stock;
    for (std::size_t i = 0; i < stock.size(); ++i) {
        try_ohm(stock[i].ohm);
        for (std::size_t j = i; j < stock.size(); ++j) {
            const double series = stock[i].ohm + stock[j].ohm;
            const double parallel = parallelOhm(stock[i].ohm, stock[j].ohm);
            try_ohm(series);
            try_ohm(parallel);
            for (std::size_t k = 0; in.max_parts == 3 && k < stock.size(); ++k) {
                if (k >= j) {
                    try_ohm(series + stock[k].ohm);
                    try_ohm(parallelOhm(parallel, stock[k].ohm));
                }
                try_ohm(parallel + stock[k].ohm);
                try_ohm(parallelOhm(series, stock[k].ohm));
            }
        }
    }
    return best;
}

void searches()
{
    double sink = 0;
    for (const auto& [name, in, budget, runs] :
         {std::tuple{"divider search, E96 1 R to 1 M, two parts, six methods", search(Series::E96, 2), 5.0,
                     20},
          std::tuple{"divider search, E24 1 R to 1 M, three parts, six methods", search(Series::E24, 3),
                     100.0, 5}}) {
        const double ms = bestMs(runs, [&, &i = in] { sink += dividerSolve(i).options.front().v; });
        const double plain = bestMs(in.max_parts == 3 ? 1 : 3, [&, &i = in] { sink += exhaustive(i); });
        print(name, ms, budget, "ms", plain);
    }
    const DividerToleranceInput many{.divider = search(Series::E24, 2).divider,
                                     .added =
                                         AddedNetwork{DividerMethod::ParallelBottom, Network(15e3), 0.01},
                                     .target = {27.6, 27.3, 27.9},
                                     .samples = 1'000'000};
    print("a million Monte Carlo samples", bestMs(5, [&] { sink += dividerTolerance(many).mean_v; }), 60,
          "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// The demo jobs with the most to search and with the most rails.
constexpr const char* most_candidates = "beacon-float-charge";
constexpr const char* most_rails = "splicing-bench";

QString demoPath(const char* job)
{
    return ui::shippedFolder(u"jobs"_s) + u"/%1.offshoot"_s.arg(QLatin1StringView(job));
}

QString demoCopy(const QTemporaryDir& folder, const char* job)
{
    QString copy = folder.filePath(u"%1.offshoot"_s.arg(QLatin1StringView(job)));
    QFile::copy(demoPath(job), copy);
    QFile::setPermissions(copy, QFile::ReadOwner | QFile::WriteOwner);
    return copy;
}

double residentMb()
{
    std::ifstream status("/proc/self/status");
    std::string word;
    while (status >> word)
        if (word == "VmRSS:") {
            double kb = 0;
            status >> kb;
            return kb / 1024;
        }
    return 0;
}

/// In a process of its own: from its start to the first painted window, then its memory.
int firstPaint()
{
    QTemporaryDir folder;
    ui::loadFonts();
    ui::MainWindow window(JobStore::open(demoCopy(folder, most_candidates)), ui::systemTime);
    window.setAttribute(Qt::WA_DeleteOnClose, false);
    window.show();
    while (!window.windowHandle()->isExposed())
        QApplication::processEvents();
    QApplication::processEvents(); // the paint that being exposed asks for
    std::cout << "painted" << std::endl;
    std::cout << residentMb() << std::endl;
    return 0;
}

void startup(const QString& program)
{
    double memory = 0;
    const double ms = bestMs(5, [&] {
        QProcess process;
        process.start(program, {u"--first-paint"_s});
        process.waitForReadyRead(20000);
        process.readLine();
        while (!process.canReadLine() && process.waitForReadyRead(20000)) {
        }
        memory = process.readLine().trimmed().toDouble();
        process.waitForFinished();
    });
    print("start to first paint, and its memory read", ms, 300, "ms");
    print("memory with the largest demo job open", memory, 150, "MB");
}

void edits(const char* job_name)
{
    QTemporaryDir folder;
    ui::MainWindow window(JobStore::open(demoCopy(folder, job_name)), ui::systemTime);
    window.setAttribute(Qt::WA_DeleteOnClose, false);
    window.show();
    QApplication::processEvents();
    double current_a = 1;
    Job job = window.session().job();
    double sink = 0;
    print("edit to complete evaluation, "s + job_name,
          bestMs(50,
                 [&] {
                     job.need.current_a = current_a += 0.001;
                     sink += evaluate(job, 1.9e9).consequences.rows.front().use.value_or(0);
                 }),
          2, "ms");
    // As a person sees it: the edit, and what asks to be painted again after it.
    print("edit to repainted window, "s + job_name,
          bestMs(30,
                 [&] {
                     window.session().edit(u"bench"_s,
                                           [&](Job& j) { j.need.current_a = current_a += 0.001; });
                     QApplication::processEvents();
                 }),
          8, "ms");
    print("the whole window painted, "s + job_name, bestMs(30, [&] { window.grab(); }), 16, "ms");
    if (sink < 0)
        std::cout << "nothing was computed\n";
}

/// Of each kind of change the shipped job that takes longest to evaluate.
void kindsOfChange()
{
    struct Heaviest
    {
        std::string job;
        double ms = 0;
    };
    std::map<std::string_view, Heaviest> heaviest;
    const QDir jobs(ui::shippedFolder(u"jobs"_s));
    std::size_t sink = 0;
    for (const QString& file : jobs.entryList({u"*.offshoot"_s}, QDir::Files, QDir::Name)) {
        const Job job = readJob(readFile(jobs.filePath(file)).toStdString());
        const auto run = chainRunOf(job); // done in the background when the chain changes
        const double ms =
            bestMs(20, [&] { sink += evaluate(job, 1.9e9, run ? &*run : nullptr).steps.size(); });
        for (const Kind* kind : plannedKinds(job))
            if (Heaviest& known = heaviest[kind->name]; ms > known.ms)
                known = {QFileInfo(file).baseName().toStdString(), ms};
    }
    for (const auto& [name, heavy] : heaviest)
        print("evaluation with " + std::string(name) + ", " + heavy.job, heavy.ms, 2, "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// What the workspaces of a plan ask for when they are seen.
void workspaces()
{
    const Job job = readJob(readFile(demoPath(most_rails)).toStdString());
    const Evaluation e = evaluate(job, 1.9e9);
    std::size_t sink = 0;
    print("trim, load, rewind, limit and hiccup of the largest job",
          bestMs(20,
                 [&] {
                     sink += trimView(job, 0).input.rails.size();
                     for (const Rail& rail : job.found.rails)
                         sink += minimumLoadView(job, e, rail).options.size() +
                                 rewindView(job, e, rail).sentence.size();
                     sink += limitView(job, e).sentence.size() + hiccupView(job).sentence.size();
                 }),
          16, "ms");
    LimitInput in{.threshold = {.v_v = 0.1, .tolerance = 0.05}};
    in.search = ShuntSearch{
        .min_a = 3,
        .a = 4,
        .max_a = 5,
        .stock = stockOf({.name = Series::E24, .from_ohm = 0.001, .to_ohm = 10, .tolerance = 0.01})};
    print("shunt search, E24 1 mR to 10 R, two parts",
          bestMs(20, [&] { sink += limitShunt(in).options->size(); }), 5, "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// A bridge with C-L-C and a resistive load, one second from switch-on.
RectifierInput bridgeChain()
{
    return {.chain = {.source = {.v_rms_v = 24, .f_hz = 50, .r_ohm = 0.6},
                      .rectifier = {.kind = SimRectifier::Bridge,
                                    .diode = {.model = DiodeModel::Threshold, .v_f_v = 0.8, .r_ohm = 0.03}},
                      .filter = {{.kind = SmoothingKind::C, .c_f = 2.2e-3},
                                 {.kind = SmoothingKind::L, .l_h = 0.05, .r_ohm = 0.8},
                                 {.kind = SmoothingKind::C, .c_f = 2.2e-3}},
                      .load = {.resistance_ohm = 40}},
            .mode = SimMode::Start,
            .t_end_s = 1};
}

/// The same by explicit steps of two microseconds, which is what its accuracy asks of them.
double plainSecond(const RectifierChain& chain)
{
    constexpr int steps = 500'000;
    const double h = 1.0 / steps;
    const auto& f = chain.filter;
    double v1 = 0;
    double v2 = 0;
    double i = 0;
    for (int k = 0; k < steps; ++k) {
        const double e =
            std::abs(std::sqrt(2.0) * chain.source.v_rms_v * std::sin(100 * 3.14159265358979 * k * h));
        const double in_a = std::max(0.0, (e - 1.6 - v1) / (chain.source.r_ohm + 0.06));
        v1 += h * (in_a - i) / f[0].c_f;
        i += h * (v1 - v2 - f[1].r_ohm * i) / f[1].l_h;
        v2 += h * (i - v2 / *chain.load.resistance_ohm) / f[2].c_f;
    }
    return v2;
}

void simulations()
{
    RectifierInput in = bridgeChain();
    double sink = 0;
    const double plain = bestMs(5, [&] { sink += plainSecond(in.chain); });
    // The run itself; a start also looks for the steady state it ends in.
    print("one second of 50 Hz bridge C-L-C, from switch-on",
          bestMs(10, [&] { sink += rectifierSimulate(in).start->start.v_end_v; }), 1, "ms", plain);
    in.mode = SimMode::Steady;
    in.t_end_s.reset();
    print("the same chain's steady state",
          bestMs(10, [&] { sink += rectifierSimulate(in).steady->load.power_w; }), 0.3, "ms");
    print("and at the ends of all its tolerances, 216 steady states",
          bestMs(5, [&] { sink += chainSpread(in.chain, {}).ripple_v; }), 100, "ms");
    FilterInput filter{.sections = {{.kind = FilterKind::L, .r_ohm = 0.03, .l_h = 1e-5, .c_par_f = 1e-11},
                                    {.kind = FilterKind::C, .c_f = 2.2e-4, .esr_ohm = 0.06, .esl_h = 1.5e-8},
                                    {.kind = FilterKind::Cm, .r_ohm = 0.05, .leakage_h = 4e-6},
                                    {.kind = FilterKind::C, .c_f = 1e-6, .esr_ohm = 0.01, .esl_h = 5e-9}},
                       .source_ohm = 0.05,
                       .load_ohm = 6};
    print("noise filter of four sections, with its peak",
          bestMs(10, [&] { sink += filterResponse(filter).series_r_ohm; }), 16, "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// Three units side by side: curves, ballast and ways, and the builds beside them; and a run with all its
/// sizes.
void joined()
{
    std::size_t sink = 0;
    for (const bool shared : {true, false}) {
        const Job job = readJob(readFile(demoPath(shared ? "hatch-heater" : "mast-camera")).toStdString());
        const Evaluation e = evaluate(job, 1.9e9);
        print(shared ? "side by side, with every way" : "wire and sense, every size",
              bestMs(10,
                     [&] {
                         sink += shared ? parallelView(job, e).loads_a.size() : wireView(job, e).sizes.size();
                     }),
              16, "ms");
    }
    const Job job = readJob(readFile(demoPath("hatch-heater")).toStdString());
    const BusModel bus = busModel(job, evaluate(job, 1.9e9));
    print(
        "4000 builds drawn, on a worker",
        bestMs(10, [&] { sink += shareBuilds(job, *bus.input).after_trimming.within_limits > 0 ? 1U : 0U; }),
        16, "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// Two hundred units held against a need of three rails, one and two together; and the best place in a case
/// of 300 × 200 × 80 mm with ten things in it.
void replacing()
{
    std::size_t sink = 0;
    UnitsMatchInput match{.need = {.rails = {}, .mains = WantedMains{.v = 230}}, .shelf = {}};
    for (const double v : {5.0, 12.0, 24.0})
        match.need.rails.push_back(
            {.name = std::to_string(v), .v = v, .min_v = v * 0.95, .max_v = v * 1.05, .current_a = 1});
    for (std::size_t i = 0; i < most_on_shelf; ++i) {
        ShelfUnit unit;
        unit.name = "unit " + std::to_string(i);
        unit.input.ranges = {{90, 264}};
        for (const double v : {5.0, 12.0, 24.0, 12.0})
            unit.outputs.push_back({.name = std::to_string(unit.outputs.size()),
                                    .v = v * (1 + 0.0004 * static_cast<double>(i)),
                                    .rated_a = 1 + 0.02 * static_cast<double>(i),
                                    .least_a = 0.1});
        match.shelf.push_back(std::move(unit));
    }
    print("200 units on the shelf, judged", bestMs(5, [&] { sink += unitsMatch(match).options.size(); }), 16,
          "ms");
    match.max_units = 2;
    print("every two of them, on a worker", bestMs(2, [&] { sink += unitsMatch(match).options.size(); }),
          1000, "ms");
    FitPlaceInput place{.inside = {0.3, 0.2, 0.08},
                        .unit = {.size = {0.129, 0.097, 0.03}, .holes = {}, .zones = {}}};
    for (int i = 0; i < 10; ++i)
        place.keep_out.push_back({"k" + std::to_string(i), 0.03 * i, 0.16, 0, 0.025, 0.03, 0.04});
    for (const double x : {0.01, 0.119})
        for (const double y : {0.01, 0.087}) {
            place.unit.holes.push_back({x, y, 0.0035});
            place.plate_holes.push_back({x + 0.05, y + 0.02, 0.0035});
        }
    print("best place in a case with ten things", bestMs(5, [&] { sink += fitPlace(place).options.size(); }),
          50, "ms");
    if (sink == 0)
        std::cout << "nothing was computed\n";
}

/// A load switched at the simulated unit whose rails take longest: a valve rectifier's chain behind a lamp.
void rehearsing()
{
    const Job job = readJob(readFile(demoPath("fog-signal-amplifier")).toStdString());
    Bench bench(job, 1, {});
    bench.play({.kind = MoveKind::LampIn});
    bench.play({.kind = MoveKind::PlugIn});
    double ohm = 1000;
    double sink = 0;
    print("a move at the simulated unit",
          bestMs(20,
                 [&] {
                     ohm += 1;
                     sink += bench.play({.kind = MoveKind::Load, .value = ohm}).t_s;
                 }),
          5, "ms");
    print("its oscilloscope captures a ripple",
          bestMs(10,
                 [&] { sink += bench.play({.kind = MoveKind::Capture, .point = "ripple"}).reading->u * 0; }),
          5, "ms");
    if (sink > 0)
        std::cout << "time passed in a load\n";
}

/// A million samples of an oscilloscope: two lines and noise.
void capturing()
{
    CaptureInput in{.samples = CapturedSamples{1e-6, {}}, .mains_hz = 50};
    std::string csv = "time,V\n";
    std::mt19937 random(3);
    for (std::size_t i = 0; i < most_samples; ++i) {
        const double t_s = static_cast<double>(i) * 1e-6;
        in.samples->values.push_back(0.05 * std::sin(628.3 * t_s) + 0.01 * std::sin(414690 * t_s) +
                                     1e-12 * static_cast<double>(random()));
        csv += std::to_string(t_s) + "," + std::to_string(in.samples->values.back()) + "\n";
    }
    std::size_t sink = 0;
    print("a million samples, with their spectrum",
          bestMs(3, [&] { sink += captureAnalyse(in).peaks.size(); }), 150, "ms");
    const CaptureInput file{.csv = csv, .mains_hz = 50};
    print("the same out of a file of 19 MB, on a worker",
          bestMs(3, [&] { sink += captureAnalyse(file).peaks.size(); }), 300, "ms");
    if (sink == 0)
        std::cout << "nothing was captured\n";
}

} // namespace

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    QCoreApplication::setApplicationName(u"offshoot-bench"_s);
    QCoreApplication::setApplicationVersion(QStringLiteral(OFFSHOOT_VERSION));
    QApplication::setStyle(QStyleFactory::create(u"Fusion"_s));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        u"Times what a person waits for, each beside its budget; ends with 1 where one is not met."_s);
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption first_paint{u"first-paint"_s, u"open one window and print when it stood"_s};
    parser.addOption(first_paint);
    parser.process(app);
    if (parser.isSet(first_paint))
        return firstPaint();
    ui::loadFonts();
    measureYard();
    searches();
    kindsOfChange();
    edits(most_candidates);
    edits(most_rails);
    workspaces();
    simulations();
    joined();
    replacing();
    rehearsing();
    capturing();
    startup(QCoreApplication::applicationFilePath());
    return every_budget_met ? 0 : 1;
}
