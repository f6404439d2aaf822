// offshoot-bench: how fast the figures are that a person waits for, each beside its budget and, where there
// is one, a plain reference done in the same run. Best of several runs: other work on the machine only adds.
#include "core/change/divider_search.h"
#include "core/change/divider_tolerance.h"
#include "core/job/workspaces.h"
#include "ui/frame/main_window.h"

#include <QApplication>
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

void print(const std::string& what, double value, double budget, const std::string& unit,
           double reference = 0)
{
    std::cout << std::left << std::setw(58) << what << std::right << std::fixed << std::setprecision(2)
              << std::setw(10) << value << ' ' << std::left << std::setw(3) << unit << " budget "
              << std::right << std::setprecision(0) << std::setw(4) << budget;
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
    const auto tryOhm = [&](double ohm) {
        for (DividerMethod method : in.methods) {
            const Legs changed = withAdded(method, legs, ohm);
            if (!runsAway(changed))
                best = std::min(best, std::abs(dividerVoltage(2.495, 2e-6, changed) - in.target.v));
        }
    };
    const auto& stock = in.stock;
    for (std::size_t i = 0; i < stock.size(); ++i) {
        tryOhm(stock[i].ohm);
        for (std::size_t j = i; j < stock.size(); ++j) {
            const double series = stock[i].ohm + stock[j].ohm;
            const double parallel = parallelOhm(stock[i].ohm, stock[j].ohm);
            tryOhm(series);
            tryOhm(parallel);
            for (std::size_t k = 0; in.max_parts == 3 && k < stock.size(); ++k) {
                if (k >= j) {
                    tryOhm(series + stock[k].ohm);
                    tryOhm(parallelOhm(parallel, stock[k].ohm));
                }
                tryOhm(parallel + stock[k].ohm);
                tryOhm(parallelOhm(series, stock[k].ohm));
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

QString demoCopy(const QTemporaryDir& folder, const char* job)
{
    const QString copy = folder.filePath(u"%1.offshoot"_s.arg(QLatin1StringView(job)));
    QFile::copy(QStringLiteral(OFFSHOOT_DATA_DIR "/jobs/%1.offshoot").arg(QLatin1StringView(job)), copy);
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
    print("start to first paint, and its memory read", ms, 400, "ms");
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
    print("edit to repainted window, "s + job_name,
          bestMs(30,
                 [&] {
                     window.session().edit(u"bench"_s,
                                           [&](Job& j) { j.need.current_a = current_a += 0.001; });
                     window.grab();
                 }),
          16, "ms");
    if (sink < 0)
        std::cout << "nothing was computed\n";
}

/// What the workspaces of a plan ask for when they are seen.
void workspaces()
{
    const Job job =
        readJob(readFile(QStringLiteral(OFFSHOOT_DATA_DIR "/jobs/splicing-bench.offshoot")).toStdString());
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

} // namespace

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    QApplication::setStyle(QStyleFactory::create(u"Fusion"_s));
    if (QCoreApplication::arguments().contains(u"--first-paint"_s))
        return firstPaint();
    ui::loadFonts();
    searches();
    edits(most_candidates);
    edits(most_rails);
    workspaces();
    startup(QCoreApplication::applicationFilePath());
    return every_budget_met ? 0 : 1;
}
