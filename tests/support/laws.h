// The laws of every procedure, as a second reader would check them: over the steps alone, from the first to
// the last. Each breach is one line.
#pragma once

#include "core/evaluate/evaluation.h"

#include <algorithm>
#include <set>
#include <string>
#include <vector>

namespace offshoot::test {

class LawReader
{
public:
    LawReader(const Job& job, const Evaluation& evaluation)
        : m_job(job)
        , m_e(evaluation)
    {}

    std::vector<std::string> run()
    {
        std::set<std::string> ids;
        Stage stage = Stage::Need;
        for (const StepView& view : m_e.steps) {
            m_step = &view.step;
            if (!ids.insert(m_step->id).second)
                say(1, "two steps have this id");
            if (m_step->stage < stage)
                say(1, "goes back to an earlier stage");
            stage = m_step->stage;
            read(*m_step);
        }
        if (m_worked && !m_looked)
            m_out.push_back("law 2: work inside without a second look");
        if (!m_open.empty())
            m_out.push_back("law 2: a case stays open");
        return m_out;
    }

private:
    void say(int law, const std::string& text)
    {
        m_out.push_back(m_step->id + ": law " + std::to_string(law) + ": " + text);
    }
    std::set<std::size_t> unitsOf(const Step& step) const
    {
        if (step.unit)
            return {*step.unit};
        std::set<std::size_t> all;
        for (std::size_t unit = 1; unit <= unitCount(m_job); ++unit)
            all.insert(unit);
        return all;
    }

    void read(const Step& s)
    {
        walks(s);
        inside(s);
        power(s);
        readings(s);
        sources(s);
        words(s);
        after(s);
        m_replaced = m_replaced || s.id == "change.out";
        m_changed = m_changed || m_replaced || s.is(Does::SecondLook);
    }

    /// 1: every step is allowed in the state that the steps before lead to.
    void walks(const Step& s)
    {
        if (!allowedIn(s.kind, m_state))
            say(1, std::string(word(s.kind)) + " while " + std::string(word(m_state)));
        if ((s.kind == StepKind::Power) != s.is(Does::Power))
            say(1, "power that does not say so, or the other way round");
        for (const Does what : {Does::LampIn, Does::LampOut, Does::LoadResistive, Does::ConnectLoad,
                                Does::CloseCase, Does::ReadParts, Does::EarthTest, Does::JoinUnits})
            if (s.is(what) && m_state != Isolation::ProvenDead)
                say(2, std::string(word(what)) + " while " + std::string(word(m_state)));
    }

    void inside(const Step& s)
    {
        const std::size_t unit = s.unit.value_or(1);
        const bool works = s.worksInside() || s.is(Does::ReadParts);
        if (s.worksInside() && m_state != Isolation::ProvenDead)
            say(2, "work inside while " + std::string(word(m_state)));
        if (s.is(Does::OpenCase)) {
            if (m_state == Isolation::Live)
                say(2, "a case opened while live");
            m_open.insert(unit);
        }
        if (works && unitSupply(m_job, unit).opens() && !m_open.contains(unit))
            say(2, "work inside a case that nothing opened");
        if (works && (m_replaced && unit == 1 ? m_e.unit.supply : unitSupply(m_job, unit)).outsideOnly())
            say(11, "work inside a sealed unit");
        if (s.is(Does::OpenCase) && !unitSupply(m_job, unit).opens())
            say(11, "opens what does not open");
        if (s.is(Does::CloseCase))
            m_open.erase(unit);
        if ((s.is(Does::Label) || s.is(Does::ConnectLoad)) && !m_open.empty())
            say(2, "with a case open");
        if (s.is(Does::Label) && m_state == Isolation::Live)
            say(2, "labelled while live");
        if (s.is(Does::SecondLook))
            m_looked = true;
        if (s.is(Does::LinkWindings) && !m_links_open)
            say(7, "links made before the old ones were opened");
        m_links_open = m_links_open || s.is(Does::OpenLinks);
        if (s.is(Does::PhaseTest) &&
            (s.asks.empty() || !m_links_open || s.detail.find("fuse") == std::string::npos))
            say(7, "a phase test without volts, fuse or open links");
        if (s.is(Does::LinkWindings) && s.detail.find("ains to ") == std::string::npos &&
            s.detail.find("of the mains to ") == std::string::npos)
            say(7, "does not name the feeds");
        if (s.is(Does::Discharge)) {
            const auto& d = s.discharge;
            if (!d || d->ohm <= 0 || d->v_v <= 0 || d->power_w <= 0 || d->energy_j <= 0 || d->seconds <= 0)
                say(8, "a discharge without its resistor");
            else if (std::abs(d->v_v * d->v_v / d->ohm - d->power_w) > 1e-9 * d->power_w ||
                     d->rated_w < d->power_w)
                say(8, "a discharge resistor that burns");
        }
        if (s.worksInside()) {
            m_worked = true;
            m_behind_limiter.erase(unit);
        }
        if (s.is(Does::WorkMainsSide) || s.is(Does::LinkWindings)) {
            m_insulation_due.insert(unit);
            m_earth_due.insert(unit);
        }
        if (s.is(Does::InsulationTest))
            m_insulation_due.erase(unit);
        if (s.is(Does::EarthTest))
            m_earth_due.erase(unit);
    }

    void power(const Step& s)
    {
        if (!s.is(Does::Power))
            return;
        if (!s.through)
            return say(3, "power through nothing");
        for (const std::size_t unit : unitsOf(s)) {
            const Supply& supply = unitSupply(m_job, unit);
            const auto& bears = m_e.bears.at(unit - 1);
            const Verdict bearing = s.stage == Stage::Found ? bears.found : bears.planned;
            const bool direct = s.through == Through::Direct;
            if (m_insulation_due.contains(unit))
                say(6, "power before the insulation test");
            if (supply.earth_class == EarthClass::ClassI && m_earth_due.contains(unit))
                say(6, "power before the earth test");
            if (direct && !m_behind_limiter.contains(unit))
                say(3, "full power, not read behind the limiter");
            if (!direct)
                m_limited.insert(unit);
            if (bearing == Verdict::Breaks)
                say(4, "powered at a mains that it does not bear");
            if (bearing == Verdict::Unknown && direct)
                say(4, "full mains although it is not known to bear it");
            if (supply.dcFed() == (s.through == Through::Lamp))
                if (!direct)
                    say(13, "the wrong limiter");
        }
        if (s.checks.size() < 6)
            say(3, "hardly any pre-power check");
    }

    void readings(const Step& s)
    {
        if (s.is(Does::ReadOutput) && s.kind == StepKind::Probe) {
            if (s.asks.empty())
                say(12, "an output read without a reading");
            for (const std::size_t unit : unitsOf(s))
                if (m_limited.contains(unit))
                    m_behind_limiter.insert(unit);
            m_output_read = true;
        }
        for (const Asked& asked : s.asks) {
            if (!asked.window || !asked.window->min || !asked.window->max)
                continue;
            const double width = *asked.window->max - *asked.window->min;
            const double u = m_job.meter.uncertainty(*asked.window->max, asked.quantity);
            if (!(width > 0) || width < 1.99 * u)
                say(12, "a window narrower than the meter's doubt: " + asked.name());
        }
    }

    void sources(const Step& s)
    {
        if (s.is(Does::PolarityTest))
            m_polarity = true;
        if (s.is(Does::ConnectLoad) && !m_output_read)
            say(9, "the real load before any reading of the output");
        if (s.is(Does::ConnectSource) && !m_polarity)
            say(9, "a source connected without a polarity test");
        m_linked = m_linked || s.id == "join.link";
        if (s.is(Does::LeakageTest) && m_linked)
            say(9, "leakage read where the stack holds the output");
        if (s.is(Does::FormCapacitors) && !m_limited.empty())
            say(10, "formed after a power");
    }

    static bool has(const std::string& text, const std::string& name)
    {
        for (std::size_t at = text.find(name); at != std::string::npos; at = text.find(name, at + 1)) {
            const auto letter = [&](std::size_t i) {
                return i < text.size() && std::isalnum(static_cast<unsigned char>(text[i])) != 0;
            };
            if (!letter(at - 1) && !letter(at + name.size()))
                return true;
        }
        return false;
    }

    void words(const Step& s)
    {
        std::string text = " " + s.title + " " + s.detail;
        for (const char* wrong : {"nan", "inf", "undefined", "  ", "..", " ,"})
            if (std::string(wrong).find_first_not_of("abcdefghijklmnopqrstuvwxyz") == std::string::npos
                    ? has(text, wrong)
                    : text.find(wrong, 1) != std::string::npos)
                say(13, std::string("a broken sentence: ") + wrong + " in " + text);
        if (m_job.found.dcFed()) {
            std::ranges::transform(text, text.begin(),
                                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
            for (const char* wrong : {"plug", "lamp", "mains"})
                if (has(text, wrong))
                    say(13, std::string("speaks of ") + wrong + " on a DC-fed unit: " + text);
        }
        if (s.is(Does::SetSelector) && text.find_first_of("0123456789") == std::string::npos)
            say(7, "the selector's position is not named");
        const bool dead_kind =
            s.kind == StepKind::Touch || s.kind == StepKind::Look || s.kind == StepKind::Wait;
        if (dead_kind && std::ranges::count(s.cautions, Caution::MainsPotential) > 0)
            say(14, "mains potential at a step without power");
        if (!s.is(Does::Prove))
            return;
        double highest_v = 0;
        const EnergyModel energy =
            m_changed ? energyModel(m_job, m_e.unit.supply, plannedChain(m_job)) : m_e.energy;
        for (const Reservoir& reservoir : energy.reservoirs)
            highest_v = std::max(highest_v, reservoir.v0_v);
        if (highest_v > 60 && energy.missing.empty() && std::ranges::count(s.cautions, Caution::OneHand) == 0)
            say(14, "no one-hand rule at a proof above 60 V");
    }

    void after(const Step& s)
    {
        if (s.is(Does::Power))
            m_state = Isolation::Live;
        if (s.is(Does::Isolate) || s.is(Does::InsulationTest) || s.is(Does::FormCapacitors))
            m_state = Isolation::Unproven;
        if (s.is(Does::Prove) && m_state != Isolation::Live)
            m_state = Isolation::ProvenDead;
    }

    const Job& m_job;
    const Evaluation& m_e;
    const Step* m_step = nullptr;
    std::vector<std::string> m_out;
    Isolation m_state = Isolation::Live;
    std::set<std::size_t> m_open;
    bool m_replaced = false; ///< the old unit is out
    bool m_changed = false;  ///< the unit is as planned
    std::set<std::size_t> m_behind_limiter;
    std::set<std::size_t> m_limited;
    std::set<std::size_t> m_insulation_due;
    std::set<std::size_t> m_earth_due;
    bool m_worked = false;
    bool m_looked = false;
    bool m_links_open = false;
    bool m_output_read = false;
    bool m_linked = false;
    bool m_polarity = false;
};

inline std::vector<std::string> breaches(const Job& job, const Evaluation& evaluation)
{
    return LawReader(job, evaluation).run();
}

} // namespace offshoot::test
