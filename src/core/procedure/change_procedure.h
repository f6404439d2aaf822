// Builds the steps of `changeProcedure`, in the order in which the work is done: making safe and powering in
// steps_safe.cpp, before the change in steps_found.cpp, around it in steps_change.cpp, after it in
// steps_bringup.cpp, units joined and the run to the load in steps_join.cpp. The steps of the change itself
// are the kinds' own: see Work.
#pragma once

#include "core/procedure/procedure.h"
#include "core/procedure/test_loads.h"

#include <algorithm>
#include <string>
#include <vector>

namespace offshoot {

class ChangeProcedure
{
public:
    ChangeProcedure(const Job& job, const Predictions& predictions, const PlannedWork& work);
    std::vector<Step> run();

    // What the kinds of change write their steps with
    Step& add(std::string id, Stage stage, StepKind kind, std::string title, std::string detail = {},
              std::vector<Does> does = {});
    const Job& job() const { return m_job; }
    const Predictions& predictions() const { return m_predictions; }
    /// The unit on the bench as it stands at this place of the procedure: found until the change is made,
    /// then as planned.
    const Supply& unit() const { return m_changed ? m_work.supply : m_job.found; }
    const Supply& planned() const { return m_work.supply; }
    const Rail& rail() const { return unit().rails.front(); }
    bool dc() const { return unit().dcFed(); }
    bool anyMains() const;
    bool hasValves() const;
    std::optional<std::size_t> stepUnit(std::size_t unit) const;
    /// What a rail is to give, as its test loads are sized.
    std::optional<double> testVolts(const std::string& rail) const;
    /// This share of the full load, at the volts that the unit gives at this place of the procedure.
    std::optional<TestLoad> loadFor(double share) const { return m_loads.load(share, m_changed); }
    /// From here on the unit is as planned: sources, reservoirs and droop are those after the change.
    void pastTheChange();
    /// What each kind in the plan has to do at this place.
    void each(std::function<void(ChangeProcedure&)> Work::*at);

    // Power in the middle of the change: made safe before and after
    void makeSafe(const std::string& prefix, Stage stage);
    void retestMains(const std::string& prefix);
    /// Something of the mains side was worked on, and earth and insulation not measured since.
    bool mainsTouched() const;
    void tieEnable(Stage stage);
    void limiterIn(const std::string& id, Stage stage, const std::string& more);
    void limiterOut(const std::string& id, Stage stage);
    Step& power(const std::string& id, Stage stage, bool limited, const std::string& load,
                std::optional<std::size_t> unit = {});
    void measureWires(Stage stage);
    void heatUp(const std::string& id, Stage stage);

    // Readings
    void askOthers(Step& step, bool planned) const;
    ReadingWindow widened(ReadingWindow window, Quantity quantity) const;
    /// The output window with `load_a`, by the droop that the before-readings showed; of full load where the
    /// droop is not known.
    Asked outputAt(const std::optional<VoltageRange>& unloaded, std::optional<double> load_a,
                   const std::string& because) const;
    std::optional<VoltageRange> behindLimiter(const std::optional<VoltageRange>& range,
                                              std::string& because) const;
    /// On the bus, loaded as the need has it: a unit gives its share, more or less, or is held up by another.
    Asked outputOnBus(const std::string& because) const;
    /// How far a lead's share may be from what was computed, A; 0 where nothing is known of it.
    double shareDoubt() const;
    /// Whether the before-readings show how the output droops with this load.
    bool droopKnown(double load_a) const { return droopAt(load_a).has_value(); }
    void outputCautions(Step& step) const;

private:
    bool any(Does what) const
    {
        return std::ranges::any_of(m_steps, [what](const Step& s) { return s.is(what); });
    }
    static std::string_view idPrefix(Stage stage)
    {
        return stage == Stage::Found ? "found" : stage == Stage::Change ? "change" : "bringup";
    }

    // What kind of unit it is
    const Supply& supply(std::size_t unit) const;
    std::size_t unitCount() const { return offshoot::unitCount(m_job); }
    bool joined() const { return !m_job.others.empty(); }
    bool hasBattery() const { return m_job.need.load.kind == LoadKind::Battery; }
    bool openable(std::size_t unit) const { return supply(unit).opens(); }
    bool earthed(std::size_t unit) const
    {
        return !supply(unit).dcFed() && supply(unit).earth_class == EarthClass::ClassI;
    }
    /// Whether the plan asks for work that a sealed case does not allow.
    bool barredBySeal() const;
    double highestOutput() const;
    std::string of(std::size_t unit) const;
    std::string idOf(const std::string& id, std::size_t unit) const;

    // steps_safe.cpp: isolation, discharge, proof, power
    void isolate(const std::string& id, Stage stage);
    void measurePins(const std::string& id, Stage stage);
    void waitAndProve(const std::string& prefix, Stage stage);
    void openCases(const std::string& prefix, Stage stage);
    void closeCases(const std::string& prefix, Stage stage);
    void discharge(const std::string& prefix, Stage stage);
    void earthTest(const std::string& id, Stage stage, std::size_t unit, const std::string& when);
    std::vector<std::string> checks(Stage stage, bool limited, const std::string& load) const;
    std::vector<Caution> powered(bool inside) const;
    const EnergyModel& energy() const
    {
        return m_changed ? m_predictions.energy_planned : m_predictions.energy_found;
    }

    // steps_found.cpp
    void identify();
    void inspectDead();
    void measureBonds();
    void formCapacitors();
    void powerAsFound();
    void unitAsFound(std::size_t unit);
    void leaveUnpowered(std::size_t unit);
    void beforeReadings();
    /// What a before-reading is held against.
    std::string foundBecause() const;
    /// Of a unit that gives way to another, and of that one: what goes beside each other in the report.
    void readLine(const std::string& id, Stage stage);
    std::string unmeasuredWires() const;
    const Wire* enableWire() const;

    // steps_change.cpp
    void fitParts();
    void inspectChange();
    bool worksOnMains() const;
    /// Earth and insulation were measured again, and nothing was worked on since.
    bool mainsRetested() const;

    // steps_valves.cpp
    std::string noLoadWords() const;
    bool bearsNoLoad() const;

    // steps_bringup.cpp
    void bringUp();
    void checkBehindLimiter();
    void loadSteps();
    std::string otherLoads() const;
    std::string busLoadWords() const;
    void warmUp();
    void connectLoad();
    void connectBattery();
    void readOnLoad();
    void signOff();

    // steps_join.cpp
    /// False where a plan joins units of which one may not be powered.
    bool joinUnits();
    void joinSideBySide();
    double matchSpread() const;
    void matchUnits();
    void proveShare();
    void joinStacked();
    void measureLeakage(std::size_t unit);
    void joinedBehindLimiter(const std::string& prefix, bool on_bus);
    void connectSense();

    // Readings
    std::optional<VoltageRange> plannedAt(double share) const;
    /// What a load takes off the output. Part of it goes with the voltage (a loop of finite gain), part with
    /// the current alone (leads): nobody knows how much, so that both are allowed for.
    struct Droop
    {
        double unloaded_v;
        double drop_v;
        double doubt_v; ///< of the two readings
        VoltageRange under(const VoltageRange& unloaded) const;
    };
    /// As the before-readings show it, where they are near enough to this load.
    std::optional<Droop> droopAt(std::optional<double> load_a) const;
    /// What stands for the users of another rail, or for as much of it as the rail bears; nothing where
    /// nobody said what they draw.
    std::optional<TestLoad> loadOf(const Predictions::Other& other) const;
    /// What the loads are sized by at this place of the procedure.
    const LoadLevel& level() const { return m_loads.at(m_changed); }
    /// The load's peak as a share of its full current; nothing where it has none, or full load is held
    /// already.
    std::optional<double> peakShare() const;
    /// "The need's 6 A ...": why full load is less than the need asks; nothing where it is not.
    std::string heldWords() const;
    /// The load bank in words, each part with its switch.
    std::string loadBank() const;

    const Job& m_job;
    const Predictions& m_predictions;
    const PlannedWork& m_work;
    TestLoads m_loads;
    ReadingStage m_reading_stage = ReadingStage::Found;
    bool m_changed = false;                        ///< the steps are past the change
    bool m_opened = false;                         ///< the cases stand open
    bool m_limited = false;                        ///< the lamp or the bench supply is in
    std::optional<std::size_t> m_retested_at = {}; ///< the mains side, at this step
    bool m_first_pins = true;
    std::vector<Step> m_steps;
};

} // namespace offshoot
