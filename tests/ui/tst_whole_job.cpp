// One whole job through the real window, by keys and clicks: a tide gauge's 12 V supply brought to 13.8 V,
// from an empty window to the signed-off report. Nothing here is in the demo data.
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/frame/header_bar.h"
#include "ui/signoff/report.h"
#include "ui/test_folder.h"
#include "ui/ways/ways_page.h"

using namespace offshoot;
using namespace offshoot::test;

namespace {

/// What a good meter would show at the step, by the middle of its window.
QString readingFor(const Asked& asked, const QString& rail)
{
    const QString point = QString::fromStdString(asked.point);
    if (point == u"earth"_s)
        return u"earth 0.11R"_s;
    if (point == u"temp"_s)
        return u"temp rectifier 58C"_s;
    if (!asked.window)
        return point + u" 40m"_s;
    const double low = asked.window->min.value_or(0);
    const double high = asked.window->max.value_or(2 * low);
    const QString load = asked.load_a ? u" @%1A"_s.arg(*asked.load_a) : QString();
    const QString unit = asked.quantity == Quantity::Resistance ? u"R"_s
                         : asked.quantity == Quantity::Current  ? u"A"_s
                                                                : u"V"_s;
    return u"%1 %2%3%4%5"_s.arg(point, QString::number((low + high) / 2, 'g', 5), unit, load,
                                point == rail ? u" +-10mV"_s : QString());
}

} // namespace

class TestWholeJob : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    /// Does what the first open step asks for. False when nothing is open.
    bool doStep(Driver& d)
    {
        const auto& steps = d.evaluation().steps;
        const auto open =
            std::ranges::find_if(steps, [](const StepView& v) { return v.status != StepStatus::Done; });
        if (open == steps.end())
            return false;
        const Step step = open->step;
        d.stage(static_cast<int>(step.stage) + 1);
        if (step.stage == Stage::Found)
            d.click(u"Steps"_s);
        if (step.stage == Stage::SignOff)
            d.click(u"Last steps"_s);
        d.pass(30);
        if (step.is(Does::MeasurePins))
            d.log(u"pins 0.6V"_s);
        switch (step.kind) {
        case StepKind::Isolate:
            d.click(u"mains is off"_s);
            break;
        case StepKind::Prove:
            if (!step.is(Does::Prove))
                break;
            d.log(u"meter ok"_s);
            for (const Asked& asked : step.asks)
                d.log(QString::fromStdString(asked.point) + u" 2.1V"_s);
            d.click(u"Meter still right"_s);
            d.pass(330); // then the second reading, for what recovers
            for (const Asked& asked : step.asks)
                d.log(QString::fromStdString(asked.point) + u" 3V"_s);
            break;
        case StepKind::Power:
            for (auto* box : d.procedure()->findChildren<QCheckBox*>())
                QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
            d.click(u"Power on"_s);
            break;
        default:
            if (step.watches_lamp)
                QTest::mouseClick(d.find<QAbstractButton>(u"lamp_flash"_s), Qt::LeftButton);
            for (const Asked& asked : step.asks)
                d.log(readingFor(asked, QString::fromStdString(d.job().found.rails.front().name)));
            break;
        }
        const auto& now = std::ranges::find_if(d.evaluation().steps,
                                               [&](const StepView& v) { return v.step.id == step.id; });
        if (now->status != StepStatus::Done)
            d.click(u"Done"_s);
        return true;
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    void fromNothingToTheReport()
    {
        Driver d(JobStore::untitled());
        QCOMPARE(d.window->stage(), Stage::Need);

        // Need
        d.click(u"Make it give another voltage"_s);
        d.fill(u"Job"_s, u"Tide gauge"_s);
        d.fill(u"Voltage"_s, u"13V8"_s);
        d.fill(u"at least"_s, u"13.6"_s);
        d.fill(u"at most"_s, u"14 V"_s);
        d.fill(u"Current"_s, u"1A5"_s);
        d.fill(u"Ripple, p-p"_s, u"150 mV"_s);
        QNEAR(d.job().need.target->v, 13.8);
        QNEAR(d.job().need.target->min_v, 13.6);
        QNEAR(d.job().need.target->max_v, 14.0);

        // Found: the parts on their stations, the divider by bands and by value
        d.stage(2);
        d.fill(u"Supply"_s, u"Redshank 30"_s);
        d.station(Station::Fuse);
        d.fill(u"Fuse value"_s, u"1A"_s);
        d.fill(u"Fuse rated voltage"_s, u"250"_s);
        d.station(Station::InputRectifier);
        d.fill(u"Reverse rating"_s, u"600V"_s);
        d.station(Station::Reservoir);
        d.fill(u"Bulk capacitance"_s, u"68u"_s);
        d.fill(u"Bulk rated voltage"_s, u"400"_s);
        d.station(Station::Converter);
        d.fill(u"Switch rated voltage"_s, u"650"_s);
        d.fill(u"Clamp level"_s, u"200V"_s);
        d.fill(u"Largest duty"_s, u"60 %"_s);
        d.fill(u"Lockout, off below"_s, u"9"_s);
        d.fill(u"Controller maximum"_s, u"24"_s);
        d.station(Station::Transformer);
        d.fill(u"Turns primary : secondary"_s, u"8"_s);
        d.fill(u"Turns auxiliary : secondary"_s, u"1.2"_s);
        d.station(Station::OutputRectifier);
        d.fill(u"Rectifier reverse rating"_s, u"100V"_s);
        d.station(Station::Smoothing);
        d.choose(u"Over-voltage trip"_s, u"none"_s);
        d.choose(u"Bleeder fitted"_s, u"no"_s);
        d.choose(u"Indicator fitted"_s, u"no"_s);
        d.fill(u"Output capacitance"_s, u"1000u"_s);
        d.fill(u"Output capacitor voltage"_s, u"25V"_s);
        d.station(Station::Load);
        d.fill(u"Rated output"_s, u"12V"_s);
        d.fill(u"Rated current"_s, u"2A5"_s);
        d.station(Station::Feedback);
        d.fill(u"LED resistor"_s, u"1k"_s);
        d.fill(u"LED current needed"_s, u"2mA"_s);
        d.choose(u"Reference"_s, u"431-type, 2.495 V 1 %"_s);
        d.fill(u"legTop"_s, u"brown black black red brown"_s);
        d.fill(u"legBottom"_s, u"2k61"_s);
        QVERIFY(d.evaluation().divider.has_value());
        QCOMPARE(d.evaluation().divider->top.ohm(), 10e3);
        for (const ConsequenceRow& row : d.evaluation().consequences.rows)
            QVERIFY2(row.verdict != Verdict::Unknown, word(row.id).data());

        // Made safe, looked at, powered, before-readings
        while (std::ranges::any_of(d.evaluation().steps, [](const StepView& v) {
            return v.step.stage == Stage::Found && v.status != StepStatus::Done;
        }))
            QVERIFY(doStep(d));
        QVERIFY(d.evaluation().before.has_value());

        // Plan: the way first, its page opens with the best candidate; then look with the arrows, plan with
        // Enter
        d.stage(3);
        auto* ways = d.find<ui::OptionList>(u"Ways, best first"_s);
        const auto* ways_page = d.window->findChild<ui::WaysPage*>();
        QTRY_VERIFY(!ways_page->working() && ways->model()->rowCount() > 0);
        ways->setFocus();
        QTest::keyClick(ways, Qt::Key_Home);
        const auto at_divider = [ways] {
            return ways->currentIndex().data(Qt::DisplayRole).toString().startsWith(u"Retune the divider"_s);
        };
        for (int i = 0; i < ways->model()->rowCount() && !at_divider(); ++i)
            QTest::keyClick(ways, Qt::Key_Down);
        QVERIFY(at_divider());
        QTest::keyClick(ways, Qt::Key_Return);
        QVERIFY(d.job().plan.chosen.has_value());
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!d.job().plan.chosen.has_value());
        auto* candidates = d.find<QListView>(u"candidates"_s);
        candidates->setFocus();
        QTest::keyClick(candidates, Qt::Key_Home);
        QTest::keyClick(candidates, Qt::Key_Down);
        QVERIFY(d.job().plan.chosen.has_value()); // the preview shows all of it
        QTest::keyClick(candidates, Qt::Key_Up);
        QTest::keyClick(candidates, Qt::Key_Return);
        QVERIFY(d.evaluation().planned->option.worst_in_window);
        QCOMPARE(d.evaluation().counts.breaks, 0);
        d.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!d.job().plan.chosen.has_value());
        d.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(d.job().plan.chosen.has_value());

        // Change, bring-up, sign-off
        int steps = 0;
        while (doStep(d))
            QVERIFY2(++steps < 120,
                     d.evaluation().blocks.empty() ? "" : d.evaluation().blocks.front().c_str());
        QVERIFY2(d.evaluation().blocks.empty(),
                 d.evaluation().blocks.empty() ? "" : d.evaluation().blocks.front().c_str());
        d.click(u"Before and after"_s);
        d.click(u"Sign off"_s);
        QVERIFY(d.evaluation().signed_off);

        // The report, and a file for the job
        const QString html = m_folder.file(u"report.html"_s);
        answerFileDialog(html);
        d.click(u"Report HTML"_s);
        const QString text = QString::fromUtf8(readFile(html));
        QVERIFY(text.contains(u"Signed off."_s) && !text.contains(u"Not signed off"_s));
        for (const QString& word :
             {u"Tide gauge"_s, u"Redshank 30"_s, u"13.8 V ±0.2 V"_s, u"earth"_s, u"Parts used"_s})
            QVERIFY2(text.contains(word), qPrintable(word));
        const QString pdf = m_folder.file(u"report.pdf"_s);
        answerFileDialog(pdf);
        d.click(u"Report PDF"_s);
        QVERIFY(readFile(pdf).startsWith("%PDF"));
        const QString file = m_folder.file(u"tide-gauge.offshoot"_s);
        answerFileDialog(file);
        d.press(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(readJob(readFile(file).toStdString()).log, d.job().log);
        d.window->close();
        // Opened again it counts as live, and is still signed off.
        Driver again(JobStore::open(file));
        QCOMPARE(again.evaluation().isolation.state, Isolation::Live);
        QVERIFY(again.evaluation().isolation.assumed && again.evaluation().signed_off);
    }
};

REGISTER_TEST(TestWholeJob, QApplication)
#include "tst_whole_job.moc"
