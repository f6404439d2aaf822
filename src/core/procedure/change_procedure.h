// Builds the steps of `changeProcedure`, in the order in which the work is done. Those of units joined and of
// the run to the load stand in steps_join.cpp.
#pragma once

#include "core/job/mains_views.h"
#include "core/procedure/procedure.h"

#include <string>
#include <vector>

namespace offshoot {

inline constexpr double earth_max_ohm = 0.5;

class ChangeProcedure
{
public:
    ChangeProcedure(const Job& job, const EnergyModel& model, const Predictions& predictions)
        : m_job(job)
        , m_model(model)
        , m_predictions(predictions)
        , m_rail(job.found.rails.front())
        , m_load_a(predictions.own_current_a)
        , m_planned_fuse(plannedFuse(job))
    {}

    std::vector<Step> run();

private:
    Step& add(std::string id, Stage stage, StepKind kind, std::string title, std::string detail = {})
    {
        m_steps.push_back({.id = std::move(id),
                           .stage = stage,
                           .kind = kind,
                           .title = std::move(title),
                           .detail = std::move(detail),
                           .reading_stage = m_reading_stage});
        return m_steps.back();
    }

    bool hasBattery() const { return m_job.need.load.kind == LoadKind::Battery; }
    bool earthed() const { return m_job.found.earth_class == EarthClass::ClassI; }
    bool highOutput() const;

    void identify();
    void makeSafe(const std::string& prefix, Stage stage);
    void inspectDead();
    void powerThroughLamp(const std::string& prefix, Stage stage);
    void beforeReadings();
    void leaveUnpowered();
    void measureWires(Stage stage);
    void fitParts();
    void fitDivider();
    void fitRefits();
    void fitOthers();
    void turnTrimmer();
    void askOthers(Step& step, bool planned) const;
    void askOtherUnits(Step& step) const;
    void checkThroughLamp();
    void loadSteps();
    // steps_join.cpp
    void measureBonds();
    void joinUnits();
    void joinSideBySide();
    void joinStacked();
    void fitWire();
    // steps_mains.cpp
    bool hasValves() const;
    void fitMains();
    void formCapacitors();
    void connectWindings();
    void measureSecondaries();
    std::string noLoadWords() const;
    void connectLoad();
    void checkOnBattery();
    void signOff();

    void isolate(const std::string& id, Stage stage);
    void prove(const std::string& prefix, Stage stage);
    void power(const std::string& id, Stage stage, bool lamp_in, const std::string& load);
    std::vector<Caution> liveCautions(bool lamp_in) const;
    /// The output window with `load_a`, by the droop that the before-readings showed.
    Asked outputAt(const std::optional<VoltageRange>& unloaded, std::optional<double> load_a,
                   const std::string& because) const;
    /// What is planned with this share of the load.
    std::optional<VoltageRange> plannedAt(double share) const;
    std::optional<double> droopShare(std::optional<double> load_a) const;

    const Job& m_job;
    const EnergyModel& m_model;
    const Predictions& m_predictions;
    const Rail& m_rail;
    std::optional<double> m_load_a;
    Fuse m_planned_fuse;
    ReadingStage m_reading_stage = ReadingStage::Found;
    std::vector<Step> m_steps;
};

} // namespace offshoot
