// The job file: round trips, unknown keys, versions, damaged documents, the published schemas.
#include "calc/calculations.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/report.h"
#include "core/evaluate/whole_job.h"
#include "core/supply/shelf.h"
#include "support/support.h"

#include <random>

using namespace offshoot;

class TestJob : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void roundTrip()
    {
        const Job job = test::demoJob();
        QCOMPARE(readJob(writeJob(job)), job);
        QCOMPARE(writeJob(readJob(writeJob(job))), writeJob(job));
        QCOMPARE(readJob(writeJob(Job{})), Job{});
    }

    /// Whatever of it somebody edits makes another job of it; what is logged does not.
    void edits()
    {
        const Job job = test::demoJob();
        Job same = job;
        same.log.clear();
        ++same.revision;
        QVERIFY(sameEdits(job, same));
        using Edit = void (*)(Job&);
        for (const Edit edit : std::initializer_list<Edit>{
                 [](Job& other) { other.title += "!"; }, [](Job& other) { other.need.why += "!"; },
                 [](Job& other) { other.found.rails.clear(); },
                 [](Job& other) { other.others.push_back(other.found); }, [](Job& other) { other.plan = {}; },
                 [](Job& other) { other.hiccup.lamp_in = true; }, [](Job& other) { other.drawer.clear(); },
                 [](Job& other) { other.meter.volts.counts += 1; },
                 [](Job& other) { other.pins.push_back({}); },
                 [](Job& other) { other.readouts.push_back({}); },
                 [](Job& other) { other.batch.units = 7; }}) {
            Job other = same;
            edit(other);
            QVERIFY(!sameEdits(job, other));
        }
    }

    /// Strings side by side, each of its windings one behind the other.
    void connectionWords()
    {
        const ConnectionPlan plan{
            .segments = {{0, "P1", "P1-1", "P1-2"}, {0, "P2", "P2-1", "P2-2"}, {1, "P3", "P3-1", "P3-2"}}};
        QCOMPARE(connectionText(plan), std::string("P1-1-P1-2 + P2-1-P2-2 || P3-1-P3-2"));
    }

    /// The report has one heading over all photographs, and none without.
    void photographsOfTheReport()
    {
        Job job;
        const auto headings = [&job] {
            const auto blocks = reportOf(job, evaluate(job, 0)).blocks;
            return std::ranges::count_if(blocks,
                                         [](const ReportBlock& b) { return b.html == "Photographs"; });
        };
        QVERIFY(headings() == 0);
        for (const char* id : {"L1", "L2"})
            job.log.push_back({.id = id, .time_s = 0, .kind = LogKind::Photo, .text = "a.jpg"});
        QVERIFY(headings() == 1);
    }

    /// Photographs that are not struck, oldest first, and the pins on one of them.
    void photos()
    {
        Job job;
        for (const char* path : {"a.jpg", "b.jpg", "c.jpg"})
            job.log.push_back({.id = path, .time_s = 0, .kind = LogKind::Photo, .text = std::string(path)});
        job.log.push_back({.id = "note", .time_s = 0, .kind = LogKind::Note, .text = std::string("d.jpg")});
        job.log.push_back({.id = "s", .time_s = 0, .kind = LogKind::Strike, .text = std::string("b.jpg")});
        QCOMPARE(photosOf(job), (std::vector<std::string>{"a.jpg", "c.jpg"}));
        for (const char* photo : {"a.jpg", "c.jpg", "a.jpg"})
            job.pins.push_back({.photo = photo, .x = 0, .y = 0});
        QCOMPARE(pinsOn(job, "a.jpg").size(), std::size_t{2});
        QVERIFY(pinsOn(job, "b.jpg").empty());
        // The report numbers them under their photograph.
        job.pins[0].name = "bleeder";
        job.pins[2].name = "fuse & holder";
        const std::string html = reportHtml(reportOf(job, evaluate(job, 0)));
        QVERIFY(html.find("a.jpg: 1 bleeder, 2 fuse &amp; holder<") != std::string::npos);
    }

    /// A key no version knows stays where it was, at every level that keeps keys.
    void unknownKeysStay()
    {
        Json document = parseJson(test::sourceFile("data/jobs/beacon-float-charge.offshoot"));
        const std::vector<const char*> at{"",
                                          "/need",
                                          "/need/mains",
                                          "/need/load",
                                          "/need/load/battery",
                                          "/found",
                                          "/found/bulk",
                                          "/found/rails/0",
                                          "/found/rails/0/feedback",
                                          "/found/rails/0/feedback/reference",
                                          "/plan",
                                          "/plan/chosen",
                                          "/plan/chosen/parts/0",
                                          "/plan/trimmer",
                                          "/drawer/0",
                                          "/log/0",
                                          "/meter",
                                          "/meter/volts"};
        for (const char* place : at)
            document[Json::json_pointer(place)]["from_later"] = Json{{"deep", {1, 2}}};
        const Json again = parseJson(writeJob(jobFrom(document)));
        for (const char* place : at) {
            const Json::json_pointer pointer(std::string(place) + "/from_later");
            QVERIFY2(again.contains(pointer), place);
            QVERIFY(again[pointer] == document[pointer]);
        }
    }

    void refuses_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QByteArray>("path");
        QTest::addColumn<QByteArray>("says");
        QTest::newRow("not JSON") << QByteArray("{") << QByteArray("") << QByteArray();
        QTest::newRow("not an object") << QByteArray("[]") << QByteArray("") << QByteArray();
        QTest::newRow("no version") << QByteArray("{}") << QByteArray("/version") << QByteArray();
        QTest::newRow("newer") << QByteArray(R"({"version":3})") << QByteArray("/version")
                               << QByteArray("newer Offshoot");
        QTest::newRow("much newer") << QByteArray(R"({"version":999,"need":3})") << QByteArray("/version")
                                    << QByteArray("newer Offshoot");
        QTest::newRow("wrong type") << QByteArray(R"({"version":1,"title":5})") << QByteArray("/title")
                                    << QByteArray();
        QTest::newRow("negative current") << QByteArray(R"({"version":1,"need":{"current_a":-1}})")
                                          << QByteArray("/need/current_a") << QByteArray();
        QTest::newRow("target outside its window")
            << QByteArray(R"({"version":1,"need":{"target":{"v":5,"min_v":6,"max_v":7}}})")
            << QByteArray("/need/target") << QByteArray();
        QTest::newRow("a word nobody knows") << QByteArray(R"({"version":1,"found":{"topology":"magic"}})")
                                             << QByteArray("/found/topology") << QByteArray("flyback");
        QTest::newRow("no rail") << QByteArray(R"({"version":1,"found":{"rails":[]}})")
                                 << QByteArray("/found/rails") << QByteArray();
        QTest::newRow("reading without value")
            << QByteArray(R"({"version":1,"log":[{"id":"L1","time_s":0,"kind":"reading","point":"out"}]})")
            << QByteArray("/log/0/value") << QByteArray();
        QTest::newRow("beyond a double") << QByteArray(R"({"version":1,"need":{"current_a":1e400}})")
                                         << QByteArray("/need/current_a") << QByteArray();
        QTest::newRow("mains-side break accepted")
            << QByteArray(R"({"version":1,"plan":{"accepted":[{"row":"bulk_voltage","reason":"hope"}]}})")
            << QByteArray("/plan/accepted/0/row") << QByteArray();
    }
    void refuses()
    {
        QFETCH(QByteArray, text);
        QFETCH(QByteArray, path);
        QFETCH(QByteArray, says);
        try {
            readJob(text.toStdString());
            QFAIL("it was read");
        } catch (const DocumentError& error) {
            QCOMPARE(QByteArray::fromStdString(error.path()), path);
            QVERIFY2(QByteArray(error.what()).contains(says), error.what());
            QVERIFY(!QByteArray(error.what()).isEmpty());
        }
    }

    /// Anything in the file replaced by anything: refused with a place inside the document, or read,
    /// evaluated and written to the same again.
    void damagedDocuments()
    {
        Json document = parseJson(test::sourceFile("data/jobs/beacon-float-charge.offshoot"));
        document["log"].erase(document["log"].begin() + 12, document["log"].end());
        document["drawer"].erase(document["drawer"].begin() + 20, document["drawer"].end());
        const auto all = test::places(document);
        for (const std::size_t number : {std::size_t{0}, std::size_t{7}, all.size() - 1})
            QVERIFY(test::placeAt(document, number) == all[number]);
        QCOMPARE(test::placeCount(document), all.size());
        const std::vector<Json> odd{nullptr,        -1,  0,    1e15, 1e-15, "", "x", true, Json::array(),
                                    Json::object(), 2.5, "24V"};
        std::mt19937 random(31);
        int read = 0;
        int refused = 0;
        for (int i = 0; i < 1200; ++i) {
            Json damaged = document;
            const auto& at = all[random() % all.size()];
            damaged[at] = odd[random() % odd.size()];
            try {
                const Job job = jobFrom(damaged);
                (void)evaluate(job, 2e9);
                QCOMPARE(readJob(writeJob(job)), job);
                ++read;
            } catch (const DocumentError& error) {
                QVERIFY(error.path().empty() || error.path().front() == '/');
                ++refused;
            }
        }
        QVERIFY(read > 100 && refused > 300);
    }

    /// Ticks and the signature of a version-1 file, which hung on the words of their steps, are read by the
    /// old rule.
    void versionOneTicks()
    {
        Job job = readJob(test::sourceFile("tests/versions/version-1-signed.offshoot"));
        const auto status = [&job](const char* id) {
            for (const StepView& view : evaluate(job, 2e9).steps)
                if (view.step.id == id)
                    return view.status;
            return StepStatus::Open;
        };
        for (const char* id :
             {"found.plate", "found.prove", "found.power_full", "change.fit", "bringup.half"})
            QVERIFY2(status(id) == StepStatus::Done, id);
        QCOMPARE(status("found.pins"), StepStatus::Open); // nobody did that then
        QVERIFY(evaluate(job, 2e9).signed_off);
        const Job same = readJob(writeJob(job));
        QVERIFY(evaluate(same, 2e9).signed_off);
        job.plan.chosen->network = Network(16e3);
        QCOMPARE(status("change.fit"), StepStatus::Again);
        QVERIFY(!evaluate(job, 2e9).signed_off);
    }

    void publishedData_data()
    {
        QTest::addColumn<QByteArray>("wanted");
        QTest::newRow("data/schemas/job.schema.json")
            << QByteArray::fromStdString(jobSchema().dump(2) + '\n');
        QTest::newRow("data/schemas/consequences.schema.json")
            << QByteArray::fromStdString(findCalculation("consequences")->schema().dump(2) + '\n');
        QTest::newRow("data/schemas/job.evaluate.schema.json")
            << QByteArray::fromStdString(jobEvaluateSchema().dump(2) + '\n');
        QTest::newRow("data/schemas/shelf.schema.json")
            << QByteArray::fromStdString(shelfSchema().dump(2) + '\n');
        QTest::newRow("data/drawers/e24-e12.csv")
            << QByteArray::fromStdString(writeDrawerCsv(defaultDrawer()));
    }
    void publishedData()
    {
        QFETCH(QByteArray, wanted);
        QVERIFY2(QByteArray::fromStdString(test::sourceFile(QTest::currentDataTag())) == wanted,
                 "out of date: run make_data data");
    }

    void nextUnit()
    {
        const Job job = test::demoJob();
        const Job next = sameChangeOnAnotherUnit(job);
        QVERIFY(next.log.empty());
        QCOMPARE(next.plan.chosen, job.plan.chosen);
        QCOMPARE(next.need, job.need);
        QVERIFY(next.title != job.title);
        QCOMPARE(evaluate(next, 2e9).isolation.state, Isolation::Live);
        QVERIFY(evaluate(next, 2e9).isolation.assumed);
        // A second replacement of the same kind keeps its plan; wires and readouts are looked at anew.
        Job bath = readJob(test::sourceFile("data/jobs/sample-bath.offshoot"));
        bath.pins = {{.photo = "a.jpg", .x = 0.5, .y = 0.5}};
        const Job second = sameChangeOnAnotherUnit(bath);
        QVERIFY(second.plan.replace == bath.plan.replace && second.plan.panel == bath.plan.panel);
        QVERIFY(second.pins.empty() && second.plan.rehouse->readouts.front().points.empty());
        QVERIFY(std::ranges::none_of(second.found.wires, &Wire::measured));
    }

    void ids()
    {
        Job job;
        QCOMPARE(nextLogId(job), std::string("L1"));
        for (const char* id : {"L7", "other", "L12x", "L3"})
            job.log.push_back({.id = id, .time_s = 0, .kind = LogKind::Note});
        QCOMPARE(nextLogId(job), std::string("L8"));
    }
};

REGISTER_TEST(TestJob, void)
#include "tst_job.moc"
