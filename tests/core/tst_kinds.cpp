// A kind of change is a module: one that only this test knows puts another supply in the place of the old
// one, and stands in plan, rows, steps, wiring, parts and report without a line anywhere else.
#include "core/evaluate/parts.h"
#include "core/evaluate/report.h"
#include "core/kinds/kind.h"
#include "core/procedure/change_procedure.h"
#include "support/support.h"

#include <QDirIterator>
#include <QRegularExpression>
#include <algorithm>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

constexpr double replaced_rating_v = 1234;

/// The plan's file keeps keys that no module of the core knows: that is where it stands.
bool inPlan(const Job& job) { return job.plan.unknown.is_object() && job.plan.unknown.contains("exchange"); }

constexpr double replaced_v = 13.25;

void exchange(const Job& /*job*/, PlannedUnit& unit)
{
    Supply other;
    other.name = "Sandpiper 30";
    other.topology = Topology::Flyback;
    other.bulk = unit.supply.bulk;
    other.fuse = unit.supply.fuse;
    other.mains_side = unit.supply.mains_side;
    other.rails = {unit.supply.rails.front()};
    other.rails.front().capacitor.v_rated_v = replaced_rating_v;
    unit.supply = other;
}

const Kind toy{
    .name = "exchange",
    .planned = inPlan,
    .rebuilds = true,
    .work =
        [](const Job&, const Figures&) {
            return Work{.inside = true,
                        .on_mains_side = true,
                        .fit =
                            [](ChangeProcedure& procedure) {
                                procedure.add("change.exchange", Stage::Change, StepKind::Touch,
                                              "Put the other one in", "",
                                              {Does::WorkMainsSide, Does::WorkOutputSide});
                            },
                        .at_load =
                            [](ChangeProcedure& procedure) {
                                procedure.add("bringup.exchange", Stage::BringUp, StepKind::Probe,
                                              "Read " + procedure.unit().name);
                            },
                        .warm = WarmPart{"exchanged", 350, "its plate"}};
        },
    .apply = exchange,
    .set_point =
        [](const Job&, const ChainRun*, Figures& figures) {
            figures.planned_v = replaced_v;
            figures.planned_range = VoltageRange{replaced_v, replaced_v};
        },
    .lines = [](const Job&, std::vector<std::string>& all) { all.emplace_back("all of it exchanged"); },
    .wiring =
        [](const Job&, const Figures&, std::vector<Connections>& all) {
            all.push_back({.name = "exchange",
                           .sentence = "Old out, new in.",
                           .parts = {{"new one", PartKind::Source, "+", "−", {}, PartFate::Added}},
                           .top = "+",
                           .bottom = "−"});
        },
    .parts = [](const Job&, const Figures&,
                PartList& list) { list.add("another supply", "the old one's place"); },
    .rows =
        [](const Job& job, const Figures&, const ChainRun*) {
            ConsequenceRow row = blankRow(RowId::OutputCapacitorVoltage, "Exchanged supply");
            row.verdict = Verdict::Tight;
            return inPlan(job) ? std::vector{row} : std::vector<ConsequenceRow>{};
        },
    .schools =
        [](const Job&, const Figures&, FiguresOf, std::vector<School>& all) {
            all.push_back(
                {"Repair or exchange", {{"Repair", "slow"}, {"Exchange", "quick"}}, 1, "it is tired"});
        }};

} // namespace

class TestKinds : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    /// Of several users of a rail with a dummy load the strictest bound what its picture shows, in any order.
    void strictestUser()
    {
        Job job = readJob(test::sourceFile("data/jobs/ferry-shed-display.offshoot"));
        const auto drawnFor = [&job](const std::vector<VoltageRange>& users) {
            for (Rail& rail : job.found.rails) {
                rail.users.clear();
                for (const auto& [min_v, max_v] : users)
                    rail.users.push_back({.min_v = min_v, .max_v = max_v});
            }
            const auto pictures = planPictures(job, figuresOf(job), nullptr);
            const auto dummy =
                std::ranges::find(pictures, "The rail with its dummy load", &ReportPicture::title);
            return dummy == pictures.end() ? std::string() : dummy->svg;
        };
        const std::string strict = drawnFor({{11.6, 12.3}});
        QVERIFY(!strict.empty());
        QCOMPARE(drawnFor({{11.6, 12.3}, {11, 13}}), strict);
        QCOMPARE(drawnFor({{11, 12.3}, {11.6, 13}, {10, 14}}), strict);
        QVERIFY(drawnFor({{11, 13}}) != strict);
    }

    void toyKind()
    {
        Json document = parseJson(writeJob(test::demoJob()));
        for (const char* key : {"chosen", "refits", "accepted"})
            document["plan"].erase(key);
        document["plan"]["exchange"] = {{"by", "Sandpiper 30"}};
        const Job job = jobFrom(document);
        QVERIFY(inPlan(job));
        const auto seen = [&job] {
            const Evaluation e = evaluate(job, 2e9);
            const std::string html = reportHtml(reportOf(job, e));
            const auto lines = plannedChanges(job);
            const auto has = [](const auto& list, const auto& test) {
                return std::ranges::any_of(list, test);
            };
            return std::array{
                changesAnything(job),
                plannedSupply(job).name == "Sandpiper 30",
                has(lines, [](const std::string& l) { return l == "all of it exchanged"; }),
                has(e.consequences.rows,
                    [](const ConsequenceRow& r) { return r.part == "Exchanged supply"; }),
                has(e.consequences.rows,
                    [](const ConsequenceRow& r) { return r.limit == replaced_rating_v; }),
                has(e.steps, [](const StepView& v) { return v.step.id == "change.exchange"; }),
                has(e.steps, [](const StepView& v) { return v.step.id == "change.insulation"; }),
                has(e.steps, [](const StepView& v) { return v.step.title == "Read Sandpiper 30"; }),
                has(e.steps,
                    [](const StepView& v) {
                        return v.step.id == "bringup.ripple" && v.step.asks.back().point == "temp exchanged";
                    }),
                e.planned_v == replaced_v,
                has(plannedConnections(job, e), [](const Connections& c) { return c.name == "exchange"; }),
                has(partsOf(job, e), [](const PartLine& p) { return p.name == "another supply"; }),
                has(planSchools(job, e, figuresOf),
                    [](const School& s) { return s.question == "Repair or exchange"; }),
                html.find("all of it exchanged") != std::string::npos,
                html.find("Put the other one in") != std::string::npos,
                html.find("Old out, new in.") != std::string::npos,
            };
        };
        for (const bool place : seen())
            QVERIFY(!place);
        kinds().push_back(&toy);
        const auto places = seen();
        kinds().pop_back();
        for (std::size_t i = 0; i < places.size(); ++i)
            QVERIFY2(places[i], std::to_string(i).c_str());
    }

    /// A sealed case bars what is done inside of it and leaves what is done at its output.
    void sealedCase()
    {
        Job job = test::demoJob();
        const auto chosen = job.plan.chosen;
        job.found.enclosure = Enclosure::Sealed;
        job.plan = {};
        job.plan.dummy_load = DummyLoadPlan{.rail = job.found.rails.front().name, .network = Network(390)};
        job.plan.wire = WirePlan{.area_m2 = 2.5e-6};
        const auto has = [&job](const char* id) {
            const Evaluation e = evaluate(job, 2e9);
            return std::ranges::any_of(e.steps, [id](const StepView& v) { return v.step.id == id; });
        };
        for (const bool inside : {false, true}) {
            if (inside)
                job.plan.chosen = chosen;
            QCOMPARE(has("change.sealed"), inside);
            QVERIFY(has("change.dummy_load") && has("change.wire") && !has("change.fit"));
        }
    }

    /// Every module says at least when it is planned and how its line in the plan reads; none is in the table
    /// twice.
    void everyKind()
    {
        std::set<const Kind*> all;
        for (const Kind* kind : kinds()) {
            QVERIFY(all.insert(kind).second);
            QVERIFY(kind->planned != nullptr && !kind->planned(Job{}));
            QVERIFY(kind->lines != nullptr || kind->follows);
        }
    }

    /// The files that ARCHITECTURE names for a kind of change are those of every kind there is, and no other
    /// source knows one by its name.
    void architecture()
    {
        const QString text = QString::fromStdString(test::sourceFile("docs/ARCHITECTURE.md"));
        const qsizetype begin = text.indexOf(u"To add one, say `exchange`:"_s);
        QVERIFY(begin > 0);
        const QString how = text.mid(begin, text.indexOf(u"\n\n"_s, begin) - begin);
        const QDir root(QStringLiteral(OFFSHOOT_SOURCE_DIR));
        QStringList shared;
        QStringList own;
        static const QRegularExpression path(u"`(src/[^`]+)`"_s);
        for (auto at = path.globalMatch(how); at.hasNext();) {
            const QString name = at.next().captured(1);
            if (!name.contains(u"exchange"_s)) {
                QVERIFY2(QFileInfo::exists(root.filePath(name)), qPrintable(name));
                shared.push_back(name);
            } else if (name.startsWith(u"src/core/kinds/"_s)) {
                own.push_back(name);
            }
        }
        QCOMPARE(own.size(), 1);
        for (const Kind* kind : kinds()) {
            const QString name = QString::fromUtf8(kind->name.data(), qsizetype(kind->name.size()));
            const QString file = QString(own.front()).replace(u"exchange"_s, name);
            QVERIFY2(QFileInfo::exists(root.filePath(file)), qPrintable(file));
            const QString folder = QFileInfo(file).path();
            const QRegularExpression known(uR"(\bkind::%1\b|extern const Kind %1\b)"_s.arg(name));
            int lines = 0;
            QDirIterator sources(root.filePath(u"src"_s), {u"*.cpp"_s, u"*.h"_s}, QDir::Files,
                                 QDirIterator::Subdirectories);
            while (sources.hasNext()) {
                const QString source = root.relativeFilePath(sources.next());
                if (QString::fromStdString(test::sourceFile(source.toUtf8().constData())).contains(known)) {
                    QVERIFY2(shared.contains(source) || source.startsWith(folder), qPrintable(source));
                    ++lines;
                }
            }
            QVERIFY2(lines >= 2, qPrintable(name)); // declared, and in the table
        }
    }
};

REGISTER_TEST(TestKinds, void)
#include "tst_kinds.moc"
