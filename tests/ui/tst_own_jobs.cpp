// Jobs of one's own, typed into an empty window: several rails with a trimmer, two units stacked, a
// transformer for another mains. None of it is in the demo data; the figures are worked out here.
#include "core/evaluate/evaluation.h"
#include "core/kinds/joined/stack_view.h"
#include "core/kinds/trim/trim_view.h"
#include "core/kinds/windings/windings_view.h"
#include "core/supply/connections.h"
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"

#include <QLabel>
#include <QTableView>
#include <algorithm>

using namespace offshoot;
using namespace offshoot::test;

namespace {

/// A table of the window, by its rows and the titles of its columns.
class Sheet
{
public:
    Sheet(const Driver& driver, const QString& name)
        : m_view(driver.find<QTableView>(name))
    {}
    int rows() const { return m_view->model()->rowCount(); }
    /// Whether the text was taken. Of two columns with one title the later is meant with `later`.
    bool put(int row, const QString& title, const QString& text, bool later = false)
    {
        return m_view->model()->setData(m_view->model()->index(row, column(title, later)), text);
    }
    QString at(int row, const QString& title) const
    {
        return m_view->model()->index(row, column(title, false)).data().toString();
    }

private:
    int column(const QString& title, bool later) const
    {
        int found = -1;
        for (int i = 0; i < m_view->model()->columnCount(); ++i)
            if (m_view->model()->headerData(i, Qt::Horizontal).toString() == title && (found < 0 || later))
                found = i;
        if (found < 0)
            qFatal("no column %s", qPrintable(title));
        return found;
    }
    QTableView* m_view;
};

bool blocked(const Driver& d, const char* words)
{
    return std::ranges::any_of(d.evaluation().blocks, [words](const std::string& block) {
        return block.find(words) != std::string::npos;
    });
}

} // namespace

class TestOwnJobs : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// A lock gauge's supply: 5 V and 12 V on one loop, −12 V that follows, one trimmer. The 12 V rail reads
    /// low.
    void railsAndTrimmer()
    {
        Driver d(JobStore::untitled());
        d.stage(1);
        d.click(u"go on without"_s);
        d.fill(u"Job"_s, u"Sluice gauge"_s);
        d.fill(u"Voltage"_s, u"5V"_s);
        d.fill(u"at least"_s, u"4.9V"_s);
        d.fill(u"at most"_s, u"5.25V"_s);
        d.fill(u"Current"_s, u"1A"_s);
        d.stage(2);
        d.click(u"Rails"_s);
        Sheet rails(d, u"Rails"_s);
        d.click(u"Add rail"_s);
        d.click(u"Add rail"_s);
        QCOMPARE(rails.rows(), 3);
        const char* names[] = {"5V", "12V", "N12"};
        const char* volts[] = {"5V", "12V", "12V"};
        for (int row = 0; row < 3; ++row) {
            QVERIFY(rails.put(row, u"Rail"_s, QLatin1StringView(names[row])));
            QVERIFY(rails.put(row, u"gives"_s, QLatin1StringView(volts[row])));
            QVERIFY(rails.put(row, u"rated"_s, u"2A"_s));
        }
        QVERIFY(!rails.put(1, u"Rail"_s, u"5V"_s)); // taken: kept as typed, the job as it was
        QCOMPARE(d.job().found.rails[1].name, std::string("12V"));
        QVERIFY(rails.put(1, u"Rail"_s, u"12V"_s));
        QVERIFY(rails.put(2, u"polarity"_s, u"negative"_s));
        QVERIFY(rails.put(1, u"follows"_s, u"5V"_s));
        QVERIFY(rails.put(2, u"follows"_s, u"5V"_s));
        QVERIFY(!rails.put(2, u"follows"_s, u"nobody"_s));
        QVERIFY(!rails.put(0, u"wanted from"_s, u"4V"_s)); // that one is typed in Need
        QVERIFY(rails.put(1, u"wanted from"_s, u"11.6V"_s));
        QVERIFY(rails.put(1, u"to"_s, u"12.6V"_s));
        QVERIFY(!rails.put(1, u"to"_s, u"11V"_s)); // below its lower edge
        QNEAR(d.job().need.others.front().max_v, 12.6);

        Sheet users(d, u"Who uses them"_s);
        d.click(u"Add user"_s);
        QVERIFY(users.put(0, u"user"_s, u"gauge head"_s));
        QVERIFY(users.put(0, u"typical"_s, u"300mA"_s));
        QVERIFY(users.put(0, u"bears from"_s, u"11V"_s));
        QVERIFY(users.put(0, u"to"_s, u"13V"_s));
        QVERIFY(!users.put(0, u"of rail"_s, u"24V"_s));
        QVERIFY(users.put(0, u"of rail"_s, u"12V"_s));
        QCOMPARE(d.job().found.rails[1].users.size(), 1u);
        QVERIFY(d.job().found.rails[0].users.empty());

        Sheet trimmers(d, u"Trimmers"_s);
        d.click(u"Add trimmer"_s);
        QVERIFY(trimmers.put(0, u"trimmer"_s, u"R14"_s));
        QVERIFY(trimmers.put(0, u"travel from"_s, u"90 %"_s));
        QVERIFY(trimmers.put(0, u"to"_s, u"110 %"_s));
        QVERIFY(!trimmers.put(0, u"to"_s, u"much"_s));
        QVERIFY(trimmers.put(0, u"to"_s, u"110 %"_s));
        const QString moved = u"moves (empty: all of the first loop)"_s;
        QVERIFY(!trimmers.put(0, moved, u"5V, 24V"_s));
        QVERIFY(trimmers.put(0, moved, QString()));

        // A wire whose colour somebody takes for its function blocks until it was measured.
        Sheet wires(d, u"Wires"_s);
        d.click(u"Add wire"_s);
        QVERIFY(wires.put(0, u"wire"_s, u"J3 pin 4"_s));
        QVERIFY(wires.put(0, u"colour"_s, u"grey"_s));
        QVERIFY(wires.put(0, u"function"_s, u"power good"_s));
        QVERIFY(blocked(d, "J3 pin 4"));
        QVERIFY(wires.put(0, u"known by"_s, u"measured"_s));
        QVERIFY(!blocked(d, "J3 pin 4"));

        // Read with the trimmer as it is: 5 V would take −2 % to +5 %, 12 V wants at least +0.87 % more.
        d.log(u"5V 5.00"_s);
        d.log(u"12V 11.50"_s);
        d.log(u"N12 -12.1"_s);
        const TrimView view = trimView(d.job(), 0);
        QVERIFY(view.result.has_value() && view.result->feasible);
        QNEAR(view.result->interval->min_scale, 11.6 / 11.5);
        QNEAR(view.result->interval->max_scale, 5.25 / 5.0);
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Trim);
        QVERIFY(d.shows(u"Turn up"_s));
        // It all survives saving.
        QVERIFY(readJob(writeJob(d.job())) == d.job());
    }

    /// Two 12 V units of one kind for 24 V: both cases earthed, both negatives tied to them.
    void stackOfTwo()
    {
        Driver d(JobStore::untitled());
        d.stage(1);
        d.click(u"go on without"_s);
        d.fill(u"Voltage"_s, u"24V"_s);
        d.fill(u"Current"_s, u"2A"_s);
        d.stage(2);
        d.click(u"Units"_s);
        Sheet units(d, u"Units of this job"_s);
        QVERIFY(units.put(0, u"unit"_s, u"Redshank 30"_s));
        QVERIFY(units.put(0, u"label"_s, u"12V"_s));
        QVERIFY(units.put(0, u"limits at"_s, u"3A"_s));
        d.click(u"Add unit"_s);
        QCOMPARE(units.rows(), 2);
        QVERIFY(units.put(1, u"stands at"_s, u"12.1V"_s));
        QVERIFY(units.put(1, u"limits at"_s, u"2A5"_s));
        QVERIFY(!units.put(1, u"limits at"_s, u"a lot"_s));
        QCOMPARE(units.at(1, u"limits at"_s), u"a lot"_s); // kept
        QVERIFY(units.put(1, u"limits at"_s, u"2A5"_s));
        Sheet earth(d, u"What is earthed, and what holds charge"_s);
        for (int row = 0; row < 2; ++row) {
            QVERIFY(earth.put(row, u"case"_s, u"earthed"_s));
            QVERIFY(earth.put(row, u"tied to it"_s, u"negative"_s));
            QVERIFY(earth.put(row, u"insulation, working"_s, u"100V"_s));
            QVERIFY(!earth.put(row, u"tied to it"_s, u"everything"_s));
            QVERIFY(earth.put(row, u"tied to it"_s, u"negative"_s));
        }
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Stack);
        const StackView found = stackView(d.job(), d.evaluation());
        QNEAR(found.result->total_v, 24.1);
        QNEAR(found.result->current_limit_a, 2.5);
        QCOMPARE(found.result->conflicts.size(), 1u); // through the mains earth
        QVERIFY(d.shows(u"shorted through the earth"_s));
        d.click(u"Open the bonds named"_s);
        QCOMPARE(d.job().plan.join->opened_bonds, std::vector<std::int64_t>{2});
        const StackView opened = stackView(d.job(), d.evaluation());
        QVERIFY(opened.result->conflicts.empty() && !opened.result->hazard);
        QNEAR(opened.result->nodes_v->back(), 24.1);
        // Both units are sources: neither may be touched before both are off.
        QCOMPARE(d.evaluation().energy.sources.size(), 2u);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!d.job().plan.join || d.job().plan.join->opened_bonds.empty());
    }

    /// A transformer with two 120 V primaries goes to 240 V: in series, and by no other way.
    void anotherMains()
    {
        Driver d(JobStore::untitled());
        d.stage(1);
        d.click(u"go on without"_s);
        d.fill(u"Voltage"_s, u"12V"_s);
        d.fill(u"Current"_s, u"1A"_s);
        d.fill(u"Mains"_s, u"240V"_s);
        d.stage(3);
        d.window->planPage().show(ui::PlanKind::Windings);
        QVERIFY(d.shows(u"Enter the windings first"_s) || !windingsView(d.job()).result);
        d.click(u"As found"_s);
        Sheet primaries(d, u"Primaries"_s);
        Sheet secondaries(d, u"Secondaries"_s);
        for (int row = 0; row < 2; ++row) {
            d.click(u"Add winding"_s);
            const QString name = row == 0 ? u"P"_s : u"Q"_s;
            QVERIFY(primaries.put(row, u"winding"_s, name));
            QVERIFY(primaries.put(row, u"start ●"_s, name + u"1"_s));
            QVERIFY(primaries.put(row, u"end"_s, name + u"2"_s));
            QVERIFY(primaries.put(row, u"volts"_s, u"120V"_s));
            QVERIFY(!primaries.put(row, u"volts"_s, u"0V"_s));
            QVERIFY(primaries.put(row, u"volts"_s, u"120V"_s));
        }
        QVERIFY(!primaries.put(1, u"winding"_s, u"P"_s)); // two of one name
        QVERIFY(primaries.put(1, u"winding"_s, u"Q"_s));
        d.click(u"Add secondary"_s);
        QVERIFY(secondaries.put(0, u"secondary"_s, u"low"_s));
        QVERIFY(secondaries.put(0, u"rated"_s, u"15V"_s));
        d.fill(u"Made for"_s, u"50Hz"_s);
        d.fill(u"VA, typed in watts"_s, u"60W"_s);
        const WindingsView view = windingsView(d.job());
        QVERIFY(view.result.has_value() && view.result->connections.size() >= 4);
        int good = 0;
        for (const Connection& c : view.result->connections)
            if (c.kind == ConnectionKind::Series) {
                QNEAR(c.flux, 1.0); // 240 V on 240 V at 50 Hz
                QNEAR(c.secondaries.front().v_v, 15.0);
                ++good;
            } else {
                QVERIFY(c.verdict == Verdict::Breaks);
            }
        QCOMPARE(good, 1);
        // Fuse: 60 VA at 240 V is 0.25 A; half as much again is 0.375 A; the next size is 0.4 A.
        QVERIFY(view.fuse.has_value());
        QNEAR(*view.fuse->value_a, 0.4);
        d.click(u"Connections"_s);
        auto* list = d.find<ui::OptionList>(u"Connections"_s);
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Home);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(d.job().plan.connection.has_value());
        QCOMPARE(connectionText(*d.job().plan.connection).find("P1-P2"), 0u);
        QVERIFY(std::ranges::any_of(d.evaluation().steps,
                                    [](const StepView& v) { return v.step.id.starts_with("change.phase"); }));
    }
};

REGISTER_TEST(TestOwnJobs, QApplication)
#include "tst_own_jobs.moc"
