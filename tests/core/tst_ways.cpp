// Which way, and what is worth reading: each way by the figures of its own plan, on the demo jobs and on
// drawn ones; the usual ratings that decide.
#include "core/evaluate/unread.h"
#include "core/evaluate/ways.h"
#include "core/evaluate/whole_job.h"
#include "support/drawn_jobs.h"
#include "support/job_files.h"
#include "support/support.h"

#include <algorithm>
#include <cmath>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

const std::vector<ShelfEntry>& shelf()
{
    static const Shelf all = readShelf(test::sourceFile("data/shelves/saltmarsh-point.shelf"));
    return all.units;
}

Job demo(const char* name)
{
    return readJob(test::sourceFile(("data/jobs/" + std::string(name) + ".offshoot").c_str()));
}

const WorkedWay& wayOf(const std::vector<WorkedWay>& ways, Way way)
{
    return *std::ranges::find(ways, way, &WorkedWay::way);
}

/// What a lane says is what the plan gives that it would make.
void agree(const Job& job, const std::vector<WorkedWay>& ways)
{
    QCOMPARE(ways.size(), Words<Way>::list.size());
    for (const WorkedWay& way : ways) {
        QVERIFY(way.plan || way.way == Way::AsFound || way.verdict == Verdict::Breaks ||
                way.way == Way::ExternalTransformer);
        QVERIFY(way.verdict != Verdict::Breaks || !way.stopped_by.empty());
        if (!way.plan)
            continue;
        Job planned = job;
        planned.plan = *way.plan;
        const Evaluation e = evaluate(planned, 0);
        if (way.reaches && e.planned_range && way.way != Way::Stacked) {
            QCOMPARE(way.reaches->min_v, e.planned_range->min_v);
            QCOMPARE(way.reaches->max_v, e.planned_range->max_v);
        }
        if (way.worst) {
            const auto row = std::ranges::find_if(
                e.consequences.rows, [&](const ConsequenceRow& r) { return r.key() == way.worst->key(); });
            QVERIFY(row != e.consequences.rows.end());
            QVERIFY(row->use == way.worst->use);
        }
        QCOMPARE(way.minutes, minutesOf(e, way.joints));
        QVERIFY(way.to_get <= way.parts && way.minutes >= 0);
    }
    // Concerned ones first, each group from the best verdict on.
    for (std::size_t i = 1; i < ways.size(); ++i) {
        QVERIFY(ways[i - 1].concerned || !ways[i].concerned);
        QVERIFY(ways[i - 1].concerned != ways[i].concerned ||
                badness(ways[i - 1].verdict) <= badness(ways[i].verdict));
    }
}

} // namespace

class TestWays : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void demos_data() { test::everyJobFile(); }
    void demos()
    {
        QFETCH(QString, file);
        const Job job = readJob(test::sourceFile(file.toUtf8().constData()));
        agree(job, waysOf(job, shelf()));
    }

    void drawn()
    {
        test::JobDrawer drawer(18);
        for (int i = 0; i < 60; ++i) {
            const Job job = drawer.next();
            agree(job, waysOf(job, shelf()));
        }
    }

    /// By hand, of jobs whose answer is known.
    void known()
    {
        const auto heater = waysOf(demo("hatch-heater"), shelf());
        // Another in series is one where the unit itself comes to less than is wanted.
        Job low = demo("splicing-bench");
        const double found_v = *evaluate(low, 0).found_v;
        for (const auto& [least_v, concerned] : {std::pair(found_v, false), {found_v + 0.001, true}}) {
            low.need.target = Target{.v = found_v + 1, .min_v = least_v, .max_v = found_v + 2};
            QCOMPARE(wayOf(waysOf(low, shelf()), Way::Stacked).concerned, concerned);
        }
        QVERIFY(heater.front().way == Way::SideBySide); // one unit alone gives too little
        const auto clock = waysOf(demo("lamp-room-clock"), shelf());
        QVERIFY(clock.front().way == Way::Module && clock.front().verdict == Verdict::Fits);
        QVERIFY(wayOf(clock, Way::Trim).stopped_by == "it has no trimmer");
        const auto camera = waysOf(demo("mast-camera"), shelf());
        QVERIFY(wayOf(camera, Way::Wire).concerned && !wayOf(camera, Way::Divider).concerned);
        const auto recorder = waysOf(demo("chart-recorder"), shelf());
        QVERIFY(wayOf(recorder, Way::Windings).concerned && wayOf(recorder, Way::Windings).opens_mains_side);
        QVERIFY(!wayOf(recorder, Way::ExternalTransformer).plan);
        QVERIFY2(wayOf(recorder, Way::ExternalTransformer).how.starts_with("230 V to 1"),
                 wayOf(recorder, Way::ExternalTransformer).how.c_str());
        QVERIFY(wayOf(clock, Way::ExternalTransformer).stopped_by.find("needs none") != std::string::npos);
        // A divider that starves its controller, together with other turns.
        const WorkedWay divider = wayOf(waysOf(demo("rain-gauge-logger"), shelf()), Way::Divider);
        QVERIFY(divider.plan && divider.plan->chosen && divider.plan->rewind && !divider.reversible);
        QVERIFY(divider.verdict != Verdict::Breaks);
        const auto none = waysOf(demo("lamp-room-clock"), {});
        QVERIFY(wayOf(none, Way::Swap).stopped_by == "the shelf is empty");
    }

    /// Of two ways on which people disagree the one that comes first is picked, for what tells them apart;
    /// what is to be done asks for its ways whatever the figures say.
    void schools()
    {
        for (const char* name : {"beacon-float-charge", "mast-camera", "chart-recorder", "hatch-heater"}) {
            const auto ways = waysOf(demo(name), shelf());
            for (const WaySchool& school : waySchools(ways)) {
                const auto place = [&](Way way) { return std::ranges::find(ways, way, &WorkedWay::way); };
                QVERIFY(place(school.pick) < place(school.other) && place(school.other)->concerned);
                QVERIFY2(schoolWords(school).ends_with(school.why + "."), name);
                QCOMPARE(school.why.find("mains side shut") != std::string::npos,
                         place(school.pick)->verdict == place(school.other)->verdict &&
                             !place(school.pick)->opens_mains_side && place(school.other)->opens_mains_side);
            }
        }
        const auto recorder = waySchools(waysOf(demo("chart-recorder"), shelf()));
        QVERIFY(std::ranges::any_of(recorder, [](const WaySchool& school) {
            return school.pick == Way::ExternalTransformer || school.other == Way::ExternalTransformer;
        }));
        Job job = demo("lamp-room-clock");
        QVERIFY(!wayOf(waysOf(job, shelf()), Way::Sense).concerned);
        job.need.aim = Aim::FarEnd;
        const auto asked = waysOf(job, shelf());
        QVERIFY(wayOf(asked, Way::Sense).concerned && wayOf(asked, Way::Wire).concerned);
        QVERIFY(std::ranges::any_of(waySchools(asked), [](const WaySchool& school) {
            return std::minmax(school.pick, school.other) == std::minmax(Way::Wire, Way::Sense);
        }));
    }

    /// Of a rail raised from 24 to 27.6 V: 25 V capacitors have borne 24 and would break, 35 V ones fit.
    void worthReading()
    {
        Job job = demo("beacon-float-charge");
        Rail& rail = job.found.rails.front();
        rail.capacitor.v_rated_v.reset();
        rail.indicator.power_w.reset();
        rail.rectifier.v_rrm_v.reset();
        const Evaluation e = evaluate(job, 0);
        const auto all = unreadOf(job, e);
        const auto of = [&](RowId id) {
            return *std::ranges::find_if(all, [&](const Unread& u) { return u.row.id == id; });
        };
        const Unread capacitor = of(RowId::OutputCapacitorVoltage);
        QVERIFY(capacitor.decides && capacitor.would_break == 25 && capacitor.would_fit == 35);
        QVERIFY(worthWords(capacitor).find("25 V would break, one of 35 V fits") != std::string::npos);
        // The diode has borne 113 V: 150 V is the least it can have, and 117 V of that is 78 %.
        const Unread diode = of(RowId::RectifierReverse);
        QVERIFY2(!diode.decides && !diode.would_break, worthWords(diode).c_str());
        QVERIFY(worthWords(diode).find("decides nothing") != std::string::npos);
        QVERIFY(std::ranges::is_sorted(all, {}, [](const Unread& u) {
            return std::pair(u.blocks ? 0 : u.decides ? 1 : 2, u.station);
        }));
    }

    /// Of the whole job from outside: the shelf is its reader's, another key is refused.
    void fromOutside()
    {
        const Json job = Json::parse(test::sourceFile("data/jobs/lamp-room-clock.offshoot"));
        const Json units = Json::parse(test::sourceFile("data/shelves/saltmarsh-point.shelf")).at("units");
        const Json with = jobEvaluate({{"job", job}, {"shelf", units}});
        QCOMPARE(with.at("ways").size(), Words<Way>::list.size());
        QVERIFY(with.at("ways").at(0).at("way") == "module");
        QVERIFY(with.at("ways").at(0).at("plan").contains("module"));
        QVERIFY(jobEvaluate(job).at("ways").at(0).at("way") != "module");
        QVERIFY_THROWS_EXCEPTION(DocumentError, jobEvaluate({{"job", job}, {"shelf", Json::array({1})}}));
        QVERIFY_THROWS_EXCEPTION(DocumentError, jobEvaluate({{"job", job}, {"drawer", units}}));
    }
};

REGISTER_TEST(TestWays, void)
#include "tst_ways.moc"
