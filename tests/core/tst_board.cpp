// What kind it is by what is seen of it, and one walk along its board: on every kind, every outline, every
// demo job.
#include "core/evaluate/identity_view.h"
#include "core/evaluate/walk_view.h"
#include "support/job_files.h"
#include "support/support.h"

#include <algorithm>
#include <random>
#include <set>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace {

bool isLeft(const IdentityView& view, Topology kind)
{
    return std::ranges::any_of(view.lanes,
                               [kind](const KindLane& lane) { return lane.topology == kind && lane.left; });
}

} // namespace

class TestBoard : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    // ---- What is it?

    /// Whoever answers what a kind looks like, in whichever of its ways, keeps it among those that are left;
    /// every look leaves as many on average as was said, and none is asked for twice.
    void kinds_data()
    {
        QTest::addColumn<int>("kind");
        for (int kind = 0; kind < static_cast<int>(kind_count); ++kind)
            QTest::addRow("%s", Words<Topology>::list.at(static_cast<std::size_t>(kind)).data()) << kind;
    }
    void kinds()
    {
        QFETCH(int, kind);
        const auto topology = static_cast<Topology>(kind);
        for (int seed = 0; seed < 20; ++seed) {
            std::mt19937 random(static_cast<unsigned>(seed * 31 + kind));
            Supply supply;
            supply.topology_assumed = true;
            std::set<KindClue> asked;
            for (IdentityView view = identityView(supply); view.asked; view = identityView(supply)) {
                QVERIFY(asked.insert(*view.asked).second);
                QCOMPARE(view.choices.size(), answersOf(*view.asked).size());
                std::vector<ClueAnswer> possible;
                for (const ClueChoice& choice : view.choices) {
                    if (admits(topology, *view.asked, choice.answer))
                        possible.push_back(choice.answer);
                    Supply then = supply;
                    setClue(then, *view.asked, choice.answer);
                    for (const KindLane& lane : identityView(then).lanes)
                        QCOMPARE(choice.leaves.find(kindWords(lane.topology)) != std::string::npos,
                                 lane.left);
                }
                QVERIFY(!possible.empty());
                setClue(supply, *view.asked, possible[random() % possible.size()]);
                QVERIFY(isLeft(identityView(supply), topology));
                QVERIFY(isLeft(identityView(supply), supply.topology)); // never taken for what it cannot be
            }
            const IdentityView end = identityView(supply);
            if (std::ranges::count_if(end.lanes, &KindLane::left) == 1) {
                QCOMPARE(supply.topology, topology);
                QCOMPARE(end.offered, std::optional(topology));
            }
            QVERIFY(supply.topology_assumed); // until somebody says so
            sayKind(supply, topology);
            QVERIFY(!supply.topology_assumed &&
                    identityView(supply).sentence.starts_with("It is said to be"));
        }
    }

    /// An outline is a guess that what is seen overrules, and the file keeps both without keeping the guess.
    void outlines_data()
    {
        QTest::addColumn<int>("outline");
        for (int i = 0; i < static_cast<int>(Words<Silhouette>::list.size()); ++i)
            QTest::addRow("%s", Words<Silhouette>::list.at(static_cast<std::size_t>(i)).data()) << i;
    }
    void outlines()
    {
        QFETCH(int, outline);
        const auto silhouette = static_cast<Silhouette>(outline);
        Supply supply;
        supply.topology_assumed = true;
        setSilhouette(supply, silhouette);
        QVERIFY(isLeft(identityView(supply), supply.topology));
        const KindClues shown = shownBy(silhouette);
        for (std::size_t i = 0; i < clue_count; ++i)
            QVERIFY(!shown.answers[i] || identityView(supply).asked != static_cast<KindClue>(i));
        // What it shows is said: nobody takes a board for fed with DC unawares.
        QVERIFY(!supply.dcFed() || identityView(supply).outline.find("fed with DC") != std::string::npos);
        Job job;
        job.found = supply;
        const Job again = readJob(writeJob(job));
        QCOMPARE(again.found.topology, supply.topology);
        QVERIFY(again.found.topology_assumed && again.found.silhouette == silhouette);
        // A look at it weighs more than its outline.
        setClue(supply, KindClue::Opens,
                shown[KindClue::Opens] == ClueAnswer::Yes ? ClueAnswer::No : ClueAnswer::Yes);
        QVERIFY(isLeft(identityView(supply), supply.topology));
        QCOMPARE(supply.topology == Topology::SealedModule, supply.seen[KindClue::Opens] == ClueAnswer::No);
    }

    /// What somebody said stays, and it is said where it does not look like that.
    void said()
    {
        Supply supply;
        sayKind(supply, Topology::Flyback);
        setClue(supply, KindClue::Switches, ClueAnswer::Two);
        QCOMPARE(supply.topology, Topology::Flyback);
        const IdentityView view = identityView(supply);
        QVERIFY(view.sentence.find("does not look like that") != std::string::npos);
        const auto lane = std::ranges::find(view.lanes, Topology::Flyback, &KindLane::topology);
        QCOMPARE(lane->against, std::string("two power transistors"));
        // Who cannot tell is asked for the next best.
        const KindClue first = *view.asked;
        const IdentityView next = identityView(supply, {first});
        QVERIFY(next.asked && *next.asked != first);
        const auto worth = cluesByWorth(supply.seen);
        QCOMPARE(worth.front().clue, first);
        QCOMPARE(worth.at(1).clue, *next.asked);
    }

    // ---- Walk the board

    void lines_data()
    {
        QTest::addColumn<int>("part");
        QTest::addColumn<QString>("line");
        QTest::addColumn<QString>("echo"); // in quotes: what is wrong
        const auto row = [](BoardPart part, const char* line, const char* echo) {
            QTest::addRow("%s: %s", infoOf(part).name.data(), line)
                << static_cast<int>(part) << QString::fromUtf8(line) << QString::fromUtf8(echo);
        };
        using enum BoardPart;
        row(Capacitor, "1000u 25V 105C",
            "Output capacitance 1 mF, Output capacitor voltage 25 V, Output capacitor temperature rating "
            "105 °C");
        row(Capacitor, "12V 1000u 25V 105C",
            "Output capacitor voltage 25 V, Output capacitance 1 mF, Output capacitor temperature rating "
            "105 "
            "°C, 12.00 V on it");
        row(Capacitor, "470uF", "Output capacitance 470 µF");
        row(Capacitor, "25V 25V 25V", "!it was said before");
        row(Capacitor, "47 25V", "!Write the unit");
        row(Capacitor, "nonsense", "!nonsense");
        row(Bulk, "400V 150u", "Bulk rated voltage 400 V, Bulk capacitance 150 µF");
        row(Bulk, "400V 450V", "!it was said before");
        row(Fuse, "T2A 250V", "Fuse value 2 A, Fuse rated voltage 250 V, speed T");
        row(Fuse, "T2AL250V", "Fuse value 2 A, Fuse rated voltage 250 V, speed T");
        row(Fuse, "FF 1A6", "Fuse value 1.6 A, speed FF");
        row(Entry, "10A 4A 6A", "Inlet rated 10 A, Switch rated 4 A, Cord rated 6 A");
        row(Entry, "230V", "!no such figure");
        row(BulkBleeder, "330k", "Bulk bleeder 330 kΩ");
        row(BulkBleeder, "orange orange yellow gold", "Bulk bleeder 330 kΩ");
        row(MinimumLoad, "red red red gold 1W", "Bleeder 2.2 kΩ, Bleeder power 1 W");
        row(MinimumLoad, "red red", "!3 to 6 bands");
        row(MinimumLoad, "red red red red red red red", "!3 to 6 bands");
        row(MinimumLoad, "2k2 1/4W", "Bleeder 2.2 kΩ, Bleeder power 250 mW");
        row(Switch, "650", "Switch rated voltage 650 V");
        row(Switch, "-650V", "!");
        row(Transformer, "4.5 0.6", "Turns primary : secondary 4.5, Turns auxiliary : secondary 0.6");
        row(Diode, "150V 10A", "Rectifier reverse rating 150 V, Rectifier current 10 A");
        row(MinimumLoad, "none", "there is none");
        row(Trip, "None", "there is none");
        row(Fuse, "none", "!of what");
        row(Trip, "15V", "Trip voltage 15 V");
        row(Plate, "24V 2A5", "Rated output 24 V, Rated current 2.5 A");
        row(Controller, "9V5 20V", "Lockout, off below 9.5 V, Controller maximum 20 V");
    }
    void lines()
    {
        QFETCH(int, part);
        QFETCH(QString, line);
        QFETCH(QString, echo);
        Supply supply;
        const auto read = readPartLine(supply, static_cast<BoardPart>(part), line.toStdString());
        if (echo.startsWith(u'!')) {
            QVERIFY(!read);
            QVERIFY2(read.problem().message.find(echo.mid(1).toStdString()) != std::string::npos,
                     read.problem().message.c_str());
            return;
        }
        QVERIFY2(bool(read), read ? "" : read.problem().message.c_str());
        QCOMPARE(QString::fromStdString(read->echo), echo);
        takePartLine(supply, 0, static_cast<BoardPart>(part), *read);
        for (const auto& [figure, value] : read->figures)
            QCOMPARE(*figure->read(supply, 0), value);
        QCOMPARE(isAbsent(supply, 0, static_cast<BoardPart>(part)), read->none);
        QVERIFY(!read->rail_v || supply.rails.front().v_v == read->rail_v);
    }

    /// Whatever is typed, each part reads it or says what is wrong and where.
    void anyLine()
    {
        std::mt19937 random(7);
        const std::vector<std::string> bits{"12", "V",   "A",   "u",    "k",    "T",   "FF",   "%",    " ",
                                            ",",  "red", "red", "none", "105",  "C",   ".",    "-",    "µ",
                                            "Ω",  "1e9", "W",   "L",    "\xff", "4k7", "gold", "brown"};
        for (std::size_t part = 0; part < board_part_count; ++part)
            for (int i = 0; i < 400; ++i) {
                std::string line;
                for (auto words = random() % 8; words > 0; --words)
                    line += bits[random() % bits.size()];
                Job job;
                const auto read = readPartLine(job.found, static_cast<BoardPart>(part), line);
                if (!read) {
                    QVERIFY(!read.problem().message.empty() && read.problem().position <= line.size());
                    continue;
                }
                for (const auto& [figure, value] : read->figures)
                    QVERIFY(value > 0 || figure->zero);
                takePartLine(job.found, 0, static_cast<BoardPart>(part), *read);
                (void)readJob(writeJob(job)); // what it holds is a valid job
            }
    }

    /// No percentage stands on a part: its line and its figures know none.
    void noPercentages()
    {
        for (const PartFigure& figure : partFigures())
            QVERIFY2(!figure.part || !figure.percent, figure.label.data());
    }

    /// Of every demo job: each figure that is read off a part of this kind stands at one stop of each of its
    /// rails; what decides is what the list of the unread says; and once it is read it is asked for no more.
    void walk_data() { test::everyJobFile(); }
    void walk()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile(file.toUtf8().constData()));
        const Evaluation e = evaluate(job, 0);
        const WalkView view = walkView(job, e);
        std::set<std::pair<const PartFigure*, std::size_t>> met;
        for (const WalkStop& stop : view.stops) {
            QVERIFY(!stop.figures.empty() && stop.place.rail < job.found.rails.size());
            for (const WalkFigure& figure : stop.figures) {
                QVERIFY(met.insert({figure.figure, stop.place.rail}).second);
                QVERIFY(figure.figure->isOf(job.found.topology));
                QVERIFY(!figure.worth.empty());
                QCOMPARE(figure.value.has_value(), !figure.shown.empty());
                QVERIFY(!figure.value || (!figure.decides && !figure.blocks));
            }
        }
        const auto first = std::ranges::find_if(view.stops, &WalkStop::matters);
        QCOMPARE(first != view.stops.end(), view.summary.find("it matters") != std::string::npos);
        if (first == view.stops.end())
            return;
        const auto figure =
            std::ranges::find_if(first->figures, [](const WalkFigure& f) { return f.decides || f.blocks; });
        constexpr double ample = 5000;
        figure->figure->access(job.found, job.found.rails[first->place.rail]) = ample;
        const WalkView after = walkView(job, evaluate(job, 0));
        for (const WalkStop& stop : after.stops)
            for (const WalkFigure& f : stop.figures)
                QVERIFY(f.figure != figure->figure || stop.place.rail != first->place.rail ||
                        (f.value && !f.decides && !f.blocks));
    }

    /// Hands go to it while it is dead, or where it never had power and nothing speaks against that.
    void barred()
    {
        Job job;
        const auto bars = [&](bool never) { return walkBarred(job, evaluate(job, 0), never); };
        QVERIFY(!bars(false).empty());
        QVERIFY(bars(true).empty());
        for (const LogKind powered : {LogKind::Live, LogKind::Reading}) {
            job.log = {{.id = "1", .time_s = 0, .kind = powered}};
            QVERIFY(!mayBeNeverPowered(job, evaluate(job, 0)));
            QVERIFY(!bars(true).empty());
        }
    }
};

REGISTER_TEST(TestBoard, void)
#include "tst_board.moc"
