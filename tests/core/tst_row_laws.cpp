// What must hold for the rows of every supply, over thousands drawn at random: the four words, and how they
// answer to a rating, a voltage, a reading taken away, a sign, a scale, an order.
#include "core/judge/consequences.h"
#include "support/support.h"

#include <algorithm>
#include <random>
#include <set>

using namespace offshoot;

namespace {

class Drawer
{
public:
    explicit Drawer(unsigned seed)
        : m_random(seed)
    {}

    /// With `all_read` nothing is left out; else each reading is there by `m_read`.
    ConsequencesInput next(bool all_read = false)
    {
        m_read = all_read ? 1 : 0.8;
        ConsequencesInput in{.supply = {}, .plan = {}};
        in.mains = {.v_v = read(chance(0.5) ? 230 : 115), .spread = read(0.1), .f_hz = 50};
        drawSupply(in.supply);
        if (chance(0.3)) {
            in.load.kind = LoadKind::Battery;
            in.load.battery = {.v_flat_v = read(m_v * 0.8),
                               .r_ohm = read(0.05),
                               .i_charge_max_a = read(between(0.5, 10)),
                               .capacity_c = read(36000),
                               .fuse_a = perhaps(0.5, 5)};
            if (chance(m_read))
                in.load.battery.blocking_diode = chance(0.3);
        }
        for (const Rail& rail : in.supply.rails)
            if (in.plan.empty() || chance(0.4))
                in.plan.emplace_back(rail.name, plan(rail));
        return in;
    }
    void shuffle(auto& list) { std::ranges::shuffle(list, m_random); }
    std::size_t pick(std::size_t count)
    {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(m_random);
    }

private:
    bool chance(double share) { return std::uniform_real_distribution<>(0, 1)(m_random) < share; }
    double between(double low, double high) { return std::uniform_real_distribution<>(low, high)(m_random); }
    std::optional<double> perhaps(double share, double v)
    {
        return chance(share) ? std::optional(v) : std::nullopt;
    }
    std::optional<double> read(double v) { return perhaps(m_read, v); }

    RailPlan plan(const Rail& rail)
    {
        RailPlan p{.v_v = rail.v_v.value_or(m_v) * between(0.75, 1.25), .i_a = read(between(0, 5))};
        if (chance(0.5)) {
            p.min_v = p.v_v * 0.99;
            p.max_v = p.v_v * 1.01;
        }
        return p;
    }

    void drawSupply(Supply& s)
    {
        m_v = std::array{5.0, 12.0, 24.0, 48.0}[pick(4)];
        s.topology = static_cast<Topology>(pick(Words<Topology>::list.size()));
        s.efficiency = read(0.85);
        s.fuse = {.value_a = read(between(0.1, 3)), .v_rated_v = read(250)};
        s.input.v_rrm_v = read(between(300, 900));
        if (chance(m_read))
            s.input.kind = static_cast<InputKind>(pick(3));
        if (s.input.stage() == InputKind::PowerFactorStage)
            s.input.bus_v = read(390);
        s.bulk.v_rated_v = read(between(20, 450));
        s.converter = {.v_rated_v = read(between(30, 800)),
                       .spike_v = read(50),
                       .clamp_v = read(between(100, 250)),
                       .duty_max = read(between(0.4, 0.9))};
        s.transformer.primary_turns = 60;
        s.transformer.auxiliary_turns = chance(m_read) ? std::optional<std::int64_t>(8) : std::nullopt;
        s.auxiliary = {.v_f_v = read(0.8), .off_v = read(9), .max_v = read(between(15, 30))};
        if (!isMainsSwitcher(s.topology))
            s.direct = {.min_v = read(m_v * between(0.8, 1.5)),
                        .mean_v = read(m_v * 1.6),
                        .max_v = read(m_v * between(1.6, 2))};
        s.regulator = {.drop_v = read(2),
                       .headroom_v = read(2),
                       .i_peak_a = read(between(1, 20)),
                       .ripple_a = read(1),
                       .theta_k_per_w = read(between(0.5, 6)),
                       .t_ambient_k = read(308.15),
                       .t_j_max_k = read(423.15)};
        s.rails.clear();
        const std::size_t rails = 1 + (chance(0.5) ? pick(4) : 0);
        for (std::size_t i = 0; i < rails; ++i)
            s.rails.push_back(rail(i));
    }

    Rail rail(std::size_t i)
    {
        Rail r;
        const double v = m_v * between(0.4, 1.5);
        r.name = "R" + std::to_string(i + 1);
        if (i > 0 && chance(0.5))
            r.regulated_by = "R1";
        if (chance(m_read))
            r.winding.turns = 3 + static_cast<std::int64_t>(pick(8));
        if (chance(m_read))
            r.winding.centre_tapped = chance(0.5);
        r.winding.i_rated_a = read(between(0.5, 8));
        r.choke_rated_a = read(between(0.5, 8));
        r.trim_min_v = read(v * 0.9);
        r.trim_max_v = read(v * 1.1);
        r.v_v = read(v);
        r.i_rated_a = read(between(0.5, 8));
        r.rectifier = {.kind = chance(0.5) ? RectifierKind::Schottky : RectifierKind::Fast,
                       .v_f_v = read(0.6),
                       .v_rrm_v = read(between(20, 200)),
                       .i_rated_a = read(between(1, 10))};
        r.capacitor.v_rated_v = read(v * between(1, 2));
        if (chance(0.5))
            r.feedback.reference = Reference{.v_ref_v = 2.5, .tolerance = 0.01};
        if (chance(m_read)) {
            r.feedback.top = Network(10e3);
            r.feedback.bottom = Network(2e3);
        }
        r.feedback.stage = {.cathode_max_v = read(36),
                            .own_supply = chance(0.2),
                            .r_led_ohm = read(between(300, 3000)),
                            .v_f_v = read(1.2),
                            .i_needed_a = read(between(5e-4, 5e-3)),
                            .has_bias = chance(0.5)};
        r.indicator = {.fitted = fitted(), .r_ohm = read(1000), .v_f_v = read(2), .power_w = read(0.25)};
        r.minimum_load = {.fitted = fitted(), .r_ohm = read(220), .power_w = read(2)};
        if (chance(m_read))
            r.trip.kind = static_cast<TripKind>(pick(4));
        r.trip.v_v = read(v * between(1, 1.5));
        for (std::size_t n = pick(3); n > 0; --n)
            r.users.push_back({.name = "user " + std::to_string(n),
                               .typical_a = read(between(0, 2)),
                               .min_v = read(v * 0.9),
                               .max_v = read(v * 1.1)});
        return r;
    }
    std::optional<bool> fitted() { return chance(m_read) ? std::optional(chance(0.7)) : std::nullopt; }

    std::mt19937 m_random;
    double m_read = 1;
    double m_v = 12;
};

const ConsequenceRow* find(const ConsequencesResult& result, const RowKey& key)
{
    const auto row =
        std::ranges::find_if(result.rows, [&](const ConsequenceRow& r) { return r.key() == key; });
    return row == result.rows.end() ? nullptr : &*row;
}

std::string said(const ConsequenceRow& row, const ConsequencesInput& in)
{
    return std::string(word(row.id)) + " " + row.rail + " " + row.part + " of " + writeJson(in).dump();
}

/// Rows that a higher output stresses more.
constexpr std::array stressed{
    RowId::SwitchVoltage,    RowId::ClampLevel,        RowId::ConverterDuty,
    RowId::AuxiliaryHigh,    RowId::RectifierReverse,  RowId::OutputCapacitorVoltage,
    RowId::TripVoltage,      RowId::MinimumLoadPower,  RowId::IndicatorPower,
    RowId::ReferenceCathode, RowId::OutputReach,       RowId::InputHeadroom,
    RowId::Dropout,          RowId::BulkVoltage,       RowId::InputRectifierReverse,
    RowId::BatteryBackFeed,  RowId::SwitchPeakCurrent, RowId::FuseCurrent,
};

/// Every number of the document by its unit: volts, ohms and watts times `k`, thermal resistances over it.
void scale(Json& j, double k)
{
    for (auto& [key, item] : j.items())
        if ((key == "top" || key == "bottom") && item.is_string())
            item = std::stod(item.get<std::string>()) * k;
        else if (item.is_structured())
            scale(item, k);
        else if (item.is_number() && key != "theta_k_per_w" &&
                 (key.ends_with("_v") || key.ends_with("_ohm") || key.ends_with("_w")))
            item = item.get<double>() * k;
        else if (item.is_number() && key == "theta_k_per_w")
            item = item.get<double>() / k;
}

/// Paths of what somebody read: every number, and the words that a look at the unit answers.
void readings(const Json& j, const std::string& path, std::vector<std::string>& out)
{
    for (const auto& [key, item] : j.items()) {
        const std::string at = path + "/" + key;
        if (item.is_structured())
            readings(item, at, out);
        else if (item.is_number() || key == "fitted")
            out.push_back(at);
    }
}

} // namespace

class TestRowLaws : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// What breaks on the mains side nobody can accept, and what must be read before it is signed off: every
    /// row is said here once more.
    void heldFirmly()
    {
        using enum RowId;
        const std::set<RowId> never_accepted{FuseVoltage,    FuseCurrent,    InputRectifierReverse,
                                             BulkVoltage,    SwitchVoltage,  ClampLevel,
                                             ConverterDuty,  AuxiliaryLow,   AuxiliaryHigh,
                                             OutputReach,    StackIsolation, MainsEvidence,
                                             WindingFlux,    SurgePeak,      BypassTime,
                                             LimiterStuck,   LimiterPulse,   BypassContacts,
                                             ChainReverse,   ChainPeak,      ChainMean,
                                             ChainHotStart,  ChainFirst,     ChainPlate,
                                             ChainCapacitor, NewInput,       NewEarth,
                                             NewInrush,      NewEntry,       NewClearance,
                                             PanelMains};
        const std::set<RowId> read_before_sign_off{FuseVoltage,   FuseCurrent, BulkVoltage,    SwitchVoltage,
                                                   MainsEvidence, ChainOutput, ChainCapacitor, NewInput,
                                                   NewEarth,      NewWires,    ModuleInput};
        for (std::size_t i = 0; i < Words<RowId>::list.size(); ++i) {
            const auto id = static_cast<RowId>(i);
            QVERIFY2(rowInfo(id).mains_side == never_accepted.contains(id), word(id).data());
            QVERIFY2(rowInfo(id).needed_for_sign_off == read_before_sign_off.contains(id), word(id).data());
        }
    }

    /// The words say what the numbers say; what is unknown names what to read.
    void words()
    {
        Drawer drawer(1);
        for (int round = 0; round < 3000; ++round) {
            const ConsequencesInput in = drawer.next();
            const ConsequencesResult result = consequences(in);
            Verdict worst = Verdict::Fits;
            for (const ConsequenceRow& row : result.rows) {
                const auto who = [&] { return said(row, in); };
                if (row.verdict == Verdict::Fits && row.id != RowId::BatteryCrowbar)
                    if (!(row.use && *row.use <= row.fits_to * (1 + 1e-8)))
                        QFAIL(who().c_str());
                if (row.verdict == Verdict::Tight && row.id != RowId::BatteryCrowbar)
                    if (!(row.use && *row.use <= 1 + 1e-8))
                        QFAIL(who().c_str());
                if (!((row.verdict == Verdict::Unknown) == !row.read_next.empty()))
                    QFAIL(who().c_str());
                if (!(row.verdict != Verdict::Unknown || !row.use))
                    QFAIL(who().c_str());
                if (row.verdict == Verdict::Breaks || row.worse)
                    worst = worse(worst, row.verdict);
                const auto same = std::ranges::count_if(
                    result.rows, [&](const ConsequenceRow& r) { return r.key() == row.key(); });
                if (!(same == 1))
                    QFAIL(who().c_str());
            }
            QCOMPARE(result.verdict, worst);
        }
    }

    void higherRating()
    {
        Drawer drawer(2);
        int raised = 0;
        for (int round = 0; round < 400; ++round) {
            const ConsequencesInput in = drawer.next();
            for (const ConsequenceRow& row : consequences(in).rows) {
                ConsequencesInput better = in;
                auto* rating = ratingOf(row.id, better.supply, better.load, row.rail);
                if (rating == nullptr || !*rating)
                    continue;
                **rating *= 1.3;
                const ConsequencesResult answer = consequences(better);
                const ConsequenceRow* after = find(answer, row.key());
                if (!(after != nullptr && badness(after->verdict) <= badness(row.verdict)))
                    QFAIL(said(row, in).c_str());
                ++raised;
            }
        }
        QVERIFY(raised > 3000);
    }

    void higherVoltage()
    {
        Drawer drawer(3);
        int compared = 0;
        for (int round = 0; round < 2000; ++round) {
            const ConsequencesInput in = drawer.next();
            ConsequencesInput higher = in;
            for (auto& [name, plan] : higher.plan)
                for (double* v :
                     {&plan.v_v, plan.min_v ? &*plan.min_v : nullptr, plan.max_v ? &*plan.max_v : nullptr})
                    if (v != nullptr)
                        *v *= 1.1;
            const ConsequencesResult before = consequences(in);
            const ConsequencesResult answer = consequences(higher);
            for (const ConsequenceRow& row : before.rows) {
                if (std::ranges::find(stressed, row.id) == stressed.end())
                    continue;
                const ConsequenceRow* after = find(answer, row.key());
                if (!(after != nullptr && badness(after->verdict) >= badness(row.verdict)))
                    QFAIL(said(row, in).c_str());
                if (row.use && after->use) {
                    if (!(*after->use >= *row.use * (1 - 1e-12)))
                        QFAIL(said(row, in).c_str());
                    ++compared;
                }
            }
        }
        QVERIFY(compared > 5000);
    }

    void readingTakenAway()
    {
        Drawer drawer(4);
        for (int round = 0; round < 60; ++round) {
            const ConsequencesInput in = drawer.next();
            const ConsequencesResult before = consequences(in);
            const Json document = writeJson(in);
            std::vector<std::string> paths;
            readings(document, "", paths);
            for (const std::string& path : paths) {
                Json less = document;
                const Json::json_pointer at(path);
                const bool needed = (path.ends_with("/v_v") && path.starts_with("/plan")) ||
                                    path.ends_with("/v_ref_v") || path.ends_with("/tolerance");
                if (needed)
                    continue; // a document without it is refused
                less[at.parent_pointer()].erase(at.back());
                const auto poorer = readJson<ConsequencesInput>(less);
                const ConsequencesResult answer = consequences(poorer);
                if (!(before.verdict != Verdict::Unknown || answer.verdict != Verdict::Fits))
                    QFAIL((path + " of " + document.dump()).c_str());
                for (const ConsequenceRow& row : before.rows) {
                    const ConsequenceRow* after = find(answer, row.key());
                    if (!(row.verdict != Verdict::Unknown || after == nullptr ||
                          after->verdict != Verdict::Fits))
                        QFAIL((path + ": " + said(row, in)).c_str());
                }
            }
        }
    }

    void negativeMirrors()
    {
        Drawer drawer(5);
        for (int round = 0; round < 300; ++round) {
            const ConsequencesInput in = drawer.next();
            ConsequencesInput mirrored = in;
            for (Rail& rail : mirrored.supply.rails)
                rail.negative = true;
            QCOMPARE(writeJson(consequences(mirrored)).dump(), writeJson(consequences(in)).dump());
        }
    }

    /// Volts, ohms and watts times three, currents as they are: the same words and the same use.
    void scaling()
    {
        Drawer drawer(6);
        for (int round = 0; round < 500; ++round) {
            const ConsequencesInput in = drawer.next(true);
            Json document = writeJson(in);
            scale(document, 3);
            const ConsequencesResult answer = consequences(readJson<ConsequencesInput>(document));
            for (const ConsequenceRow& row : consequences(in).rows) {
                if (row.id == RowId::FuseVoltage || row.id == RowId::OptocouplerCurrent)
                    continue; // the mains scales too; a reference nobody read does not
                const ConsequenceRow* after = find(answer, row.key());
                const auto who = [&] { return said(row, in); };
                if (!(after != nullptr && after->verdict == row.verdict))
                    QFAIL(who().c_str());
                if (row.use)
                    if (!(std::abs(*after->use - *row.use) <= 1e-9 * *row.use))
                        QFAIL(who().c_str());
            }
        }
    }

    void orderMeansNothing()
    {
        Drawer drawer(7);
        for (int round = 0; round < 1000; ++round) {
            const ConsequencesInput in = drawer.next();
            ConsequencesInput other = in;
            drawer.shuffle(other.plan);
            if (in.supply.topology != Topology::Unregulated) // whose highest voltage is the first rail's
                drawer.shuffle(other.supply.rails);
            const ConsequencesResult before = consequences(in);
            const ConsequencesResult answer = consequences(other);
            QCOMPARE(answer.rows.size(), before.rows.size());
            QCOMPARE(answer.verdict, before.verdict);
            for (const ConsequenceRow& row : before.rows) {
                const ConsequenceRow* after = find(answer, row.key());
                if (!(after != nullptr && after->verdict == row.verdict &&
                      after->planned.has_value() == row.planned.has_value()))
                    QFAIL(said(row, in).c_str());
                if (row.planned)
                    if (!(std::abs(*after->planned - *row.planned) <= 1e-9 * std::abs(*row.planned)))
                        QFAIL(said(row, in).c_str());
            }
        }
    }

    void planEqualToFound()
    {
        Drawer drawer(8);
        int equal = 0;
        for (int round = 0; round < 1500; ++round) {
            ConsequencesInput in = drawer.next();
            bool read = true;
            for (auto& [name, plan] : in.plan) {
                const Rail* rail = railNamed(in.supply, name);
                read = read && rail->v_v;
                plan = {.v_v = rail->v_v.value_or(1), .i_a = plan.i_a};
                for (const Rail& other : in.supply.rails) // a follower nobody read may move
                    read = read && (other.v_v || loopOf(other) != loopOf(*rail));
            }
            if (!read || (in.supply.topology == Topology::Unregulated && !in.supply.direct.max_v))
                continue;
            ++equal;
            for (const ConsequenceRow& row : consequences(in).rows)
                if (!(!row.worse))
                    QFAIL(said(row, in).c_str());
        }
        QVERIFY(equal > 500);
    }
};

REGISTER_TEST(TestRowLaws, void)
#include "tst_row_laws.moc"
