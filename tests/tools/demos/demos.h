// The demo jobs, each made by living it: described, then worked on through the log as a person would.
#pragma once

#include "core/rehearse/bench.h"
#include "ui/session.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include <map>
#include <span>
#include <stdexcept>
#include <string>

namespace offshoot::demos {

/// 21 November 2026, 10:00 UTC, a made-up working day.
inline constexpr double start_s = 1795255200;

class Bench
{
public:
    Bench()
        : m_session(JobStore::untitled(), [this] { return m_now_s; })
    {}
    ui::JobSession& session() { return m_session; }
    void wait(double seconds) { m_now_s += seconds; }

    void type(const std::string& text)
    {
        settle();
        // With several units on the bench somebody else writes: the second readings have their time.
        wait(m_session.job().others.empty() ? 40 : 12);
        const LogLine line =
            readLogLine(text, m_session.job(), m_session.evaluation(), m_session.lastPoint());
        if (!line.entry || !m_session.log(*line.entry))
            throw std::runtime_error("not taken: " + text + ": " + line.problem);
    }
    void tick(const std::string& step)
    {
        settle();
        wait(60);
        const auto& steps = m_session.evaluation().steps;
        const auto view = std::ranges::find_if(steps, [&](const StepView& v) { return v.step.id == step; });
        if (view == steps.end())
            throw std::runtime_error("no step " + step);
        const std::string refusal = view->refusal;
        if (view->status != StepStatus::Done &&
            !m_session.tick(step, std::vector<bool>(view->step.checks.size(), true)))
            throw std::runtime_error("not ticked: " + step + ": " + refusal);
    }
    /// What is typed at a step, in order; steps not named take usual readings.
    using Says = std::map<std::string, std::vector<std::string>>;
    /// Does every open step from the first up to this one, as it says.
    void upTo(const std::string& id, const Says& says = {})
    {
        while (true) {
            settle();
            const auto& steps = m_session.evaluation().steps;
            const auto open =
                std::ranges::find_if(steps, [](const StepView& v) { return v.status != StepStatus::Done; });
            const auto last = std::ranges::find_if(steps, [&](const StepView& v) { return v.step.id == id; });
            if (last == steps.end())
                throw std::runtime_error("no step " + id);
            if (open > last)
                return;
            const Step step = open->step;
            const auto said = says.find(step.id);
            perform(step, said == says.end() ? usual(step) : said->second);
        }
    }

private:
    void perform(const Step& step, const std::vector<std::string>& lines)
    {
        if (step.is(Does::Isolate))
            allOff();
        if (step.wait_s)
            wait(std::ceil(std::min(*step.wait_s, 200.0)));
        if (step.is(Does::Prove))
            prove();
        if (step.watches_lamp)
            type("lamp flash");
        for (const std::string& line : lines)
            type(line);
        tick(step.id);
    }

    /// Every reservoir read below 10 V, the meter proven before and after, then what recovers.
    void prove()
    {
        type("meter ok");
        std::vector<std::string> recovers;
        const auto reservoirs = m_session.evaluation().energy.reservoirs; // logging makes it anew
        for (const Reservoir& reservoir : reservoirs) {
            type(reservoir.key() + (reservoir.point == "bulk" ? " 3.2V" : " 0.4V"));
            if (reservoir.needs_second)
                recovers.push_back(reservoir.key());
        }
        type("meter ok");
        wait(330);
        for (const std::string& key : recovers)
            type(key + " 4.1V");
    }

    static std::vector<std::string> usual(const Step& step)
    {
        std::vector<std::string> lines;
        for (const Asked& asked : step.asks) {
            const std::string tag = asked.unit ? " #" + *asked.unit : "";
            if (step.is(Does::MeasurePins))
                lines.push_back("pins 0.8V" + tag);
            else if (step.is(Does::EarthTest))
                lines.push_back("earth 0.08R" + tag);
            else if (asked.point == "mains")
                lines.emplace_back("mains 232");
            else if (asked.point == "ripple")
                lines.emplace_back("ripple 45mV");
        }
        return lines;
    }

public:
    /// What the oscilloscope saw at the job's simulated unit after these moves, the last of which captures;
    /// taken in as `name` with the load.
    void capture(const std::string& name, const std::vector<std::string>& moves, std::uint64_t seed,
                 std::optional<ReadingLoad> load)
    {
        settle();
        wait(40);
        const Job& job = m_session.job();
        offshoot::Bench rig(job, seed, {});
        BenchAnswer seen;
        for (const std::string& move : moves)
            seen = rig.play(benchMoveFrom(move, {}));
        const CaptureAsk ask{.path = name, .point = *enumFrom<CapturePoint>(seen.move.point), .load = load};
        const std::string csv = captureFile(*seen.capture, ask.point, *seen.move.dialect);
        LogEntry entry = captureEntry(ask, csv, job);
        entry.capture->from = name;
        entry.typed = "capture " + name + " " + *entry.point + loadText(entry);
        attachCapture(entry, m_session.evaluation());
        m_files.emplace_back(name, csv);
        if (!m_session.log(std::move(entry)))
            throw std::runtime_error("not captured: " + name);
    }
    /// The captures' files, and their texts.
    const std::vector<std::pair<std::string, std::string>>& files() const { return m_files; }

    void allOff()
    {
        if (m_session.job().need.load.kind == LoadKind::Battery)
            type("battery off");
        type("unplugged");
        for (std::size_t unit = 2; unit <= m_session.job().others.size() + 1; ++unit)
            type("unplugged #" + std::to_string(unit));
    }

private:
    /// A simulated chain's figures come in by themselves.
    void settle()
    {
        while (m_session.simulating())
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    }

    double m_now_s = start_s;
    ui::JobSession m_session;
    std::vector<std::pair<std::string, std::string>> m_files;
};

struct Demo
{
    const char* file; ///< in data/jobs
    void (*describe)(Job& job);
    void (*work)(Bench& bench);
};

/// In the order of the job list.
std::span<const Demo> demos();

void describeBeacon(Job& job);
void workBeacon(Bench& bench);
void describeFerry(Job& job);
void workFerry(Bench& bench);
void describeRainGauge(Job& job);
void workRainGauge(Bench& bench);
void describeHeater(Job& job);
void workHeater(Bench& bench);
void describeCamera(Job& job);
void workCamera(Bench& bench);
void describeRadio(Job& job);
void workRadio(Bench& bench);
void describeRecorder(Job& job);
void workRecorder(Bench& bench);
void describeFogSignal(Job& job);
void workFogSignal(Bench& bench);
void describeBarograph(Job& job);
void workBarograph(Bench& bench);
void describeSplicing(Job& job);
void workSplicing(Bench& bench);
void describeTideHouse(Job& job);
void workTideHouse(Bench& bench);
void describeLampRoom(Job& job);
void workLampRoom(Bench& bench);
void describeSearchlight(Job& job);
void workSearchlight(Bench& bench);
void describeWindRecorder(Job& job);
void workWindRecorder(Bench& bench);
void describeSampleBath(Job& job);
void workSampleBath(Bench& bench);

/// The station's drawer, and its box of power resistors.
std::vector<StockItem> drawer(const char* name);

} // namespace offshoot::demos
