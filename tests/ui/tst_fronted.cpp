// A bare module gets a case of its own by keys: its reach, its potentiometers, its front and the template.
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/rehouse/rehouse_view.h"
#include "ui/driver.h"
#include "ui/panel/panel_page.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"

#include <QMouseEvent>
#include <QTableView>
#include <algorithm>
#include <cmath>

using namespace offshoot;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

class TestFronted : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void open(const Driver& d, ui::PlanKind kind)
    {
        d.window->showStage(Stage::Plan);
        d.window->planPage().show(kind);
        QApplication::processEvents();
    }
    static bool put(const Driver& d, const QString& table, int row, const QString& column,
                    const QString& text)
    {
        QAbstractItemModel* model = d.find<QTableView>(table)->model();
        for (int c = 0; c < model->columnCount(); ++c)
            if (model->headerData(c, Qt::Horizontal).toString() == column)
                return model->setData(model->index(row, c), text, Qt::EditRole);
        return false;
    }

    /// What was judged, on its own tab; back to `tab` after.
    static bool judged(const Driver& d, const QString& text, const QString& tab)
    {
        d.click(u"Judged"_s);
        const bool says = d.shows(text);
        d.click(tab);
        return says;
    }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// From nothing but the module: a case of its own, what a broken wire does, the guard that bounds it;
    /// what does not read stays with its message.
    void rehoused()
    {
        Driver d(m_folder.job("sample-bath"));
        d.window->session().edit(u"bare"_s, [](Job& job) {
            job.plan.rehouse.reset();
            job.plan.panel.reset();
        });
        open(d, ui::PlanKind::Rehouse);
        QVERIFY(d.shows(u"reaches 1.25 V to 20.50 V"_s));
        d.click(u"Give it a case of its own"_s);
        QVERIFY(d.job().plan.rehouse && d.job().plan.rehouse->fuse_a);
        const QString pots = u"Potentiometers"_s;
        QVERIFY(judged(d, u"either wire broken: the output rises to 20.50 V"_s, pots));
        QVERIFY(put(d, u"On wires"_s, 0, u"fixed leg"_s, u"430R"_s));
        QVERIFY(put(d, u"On wires"_s, 0, u"guard"_s, u"3k9"_s));
        QVERIFY(!judged(d, u"rises to 20.50 V"_s, pots));
        put(d, u"On wires"_s, 0, u"turns"_s, u"many"_s);
        QVERIFY(d.shows(u"1, or 10 of a helical one"_s));
        QCOMPARE(d.job().plan.rehouse->pots[0].turns, 10);
        QVERIFY(put(d, u"On wires"_s, 0, u"wires, mm"_s, u"400"_s));
        QVERIFY(std::abs(d.job().plan.rehouse->pots[0].wire_m - 0.4) < 1e-12);
        d.click(u"Spacers"_s);
        d.click(u"Add spacer"_s);
        QVERIFY(put(d, u"Spacers under the board"_s, 0, u"carries"_s, u"current"_s));
        QVERIFY(judged(d, u"no wire takes its place"_s, u"Readouts"_s));
        QVERIFY(put(d, u"Readouts"_s, 0, u"shown/true"_s, u"5.3/5.0, 12.6/12.0"_s));
        QCOMPARE(d.job().plan.rehouse->readouts[0].points.size(), 2U);
        put(d, u"Readouts"_s, 0, u"shown/true"_s, u"5.3"_s);
        QVERIFY(d.shows(u"shown and true, pair by pair"_s));
        d.click(u"Without a case of its own"_s);
        QVERIFY(!d.job().plan.rehouse);
        d.window->session().undoStack().undo();
        QCOMPARE(d.job().plan.rehouse->readouts[0].points.size(), 2U);
    }

    /// Laid out by one key, its parts walked and moved by others; what is moved into its neighbour breaks.
    void frontByKeys()
    {
        Driver d(m_folder.job("sample-bath"));
        d.window->session().edit(u"no front"_s, [](Job& job) { job.plan.panel.reset(); });
        open(d, ui::PlanKind::Panel);
        QVERIFY(d.shows(u"No panel is planned"_s));
        d.click(u"Lay out the front"_s);
        const PanelPlan laid = *d.job().plan.panel;
        QVERIFY(laid.items.size() > 4);
        auto* picture = d.find<ui::PanelPicture>(u"panelPicture"_s);
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_N);
        const std::size_t second = picture->current();
        QCOMPARE(second, 1U);
        QTest::keyClick(picture, Qt::Key_Right);
        QVERIFY(std::abs(d.job().plan.panel->items[second].x_m - laid.items[second].x_m - 1e-3) < 1e-9);
        for (int i = 0; i < 30; ++i)
            QTest::keyClick(picture, Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(d.shows(u"its cut-out leaves the panel"_s)); // the sentence
        QTest::keyClick(picture, Qt::Key_Home);
        QCOMPARE(d.job().plan.panel->items[second].x_m, laid.items[second].x_m);
        QTest::keyClick(picture, Qt::Key_P);
        QTest::keyClick(picture, Qt::Key_Delete);
        QCOMPARE(d.job().plan.panel->items.size(), laid.items.size() - 1);
        d.window->session().undoStack().undo();
        // By the mouse, as one edit on a whole millimetre.
        const int edits = d.window->session().undoStack().index();
        const double scale =
            std::min((picture->width() - 40) / laid.width_m, (picture->height() - 40) / laid.height_m);
        const PanelItem first = d.job().plan.panel->items[0];
        const QPointF corner((picture->width() - laid.width_m * scale) / 2,
                             (picture->height() + laid.height_m * scale) / 2);
        const QPoint from = (corner + QPointF(first.x_m, -first.y_m) * scale).toPoint();
        QTest::mousePress(picture, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(from + QPoint(0, -20)),
                         picture->mapToGlobal(QPointF(from)), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(picture, &move);
        QTest::mouseRelease(picture, Qt::LeftButton, {}, from + QPoint(0, -20));
        QVERIFY(d.job().plan.panel->items[0].y_m > first.y_m);
        QCOMPARE(d.window->session().undoStack().index(), edits + 1);
    }

    /// Own letters that promise more than the feed lets the module give break, with the reason; the template
    /// is written, and where it cannot be says why.
    void lettersAndTemplate()
    {
        Driver d(m_folder.job("sample-bath"));
        open(d, ui::PlanKind::Panel);
        const auto& items = d.job().plan.panel->items;
        const auto post = std::ranges::find(items, PanelPart::Post, &PanelItem::kind);
        const int row = static_cast<int>(post - items.begin());
        d.click(u"Parts"_s);
        QVERIFY(put(d, u"Parts of the front"_s, row, u"own letters"_s, u"0 to 30 V"_s));
        QVERIFY(judged(d, u"the plan gives + 1.5 to 20.5 V"_s, u"Parts"_s));
        QVERIFY(put(d, u"Parts of the front"_s, row, u"cut-out, mm"_s, u"9"_s));
        QVERIFY(!put(d, u"Parts of the front"_s, row, u"cut-out, mm"_s, u"9 by 4 by 2"_s) ||
                std::abs(*d.job().plan.panel->items[static_cast<std::size_t>(row)].d_m - 9e-3) < 1e-12);
        QVERIFY(d.shows(u"a diameter, or width and height"_s));
        auto* page = d.window->findChild<ui::PanelPage*>();
        QVERIFY(page->exportTemplate(m_folder.file(u"panel.pdf"_s)));
        QVERIFY(page->exportTemplate(m_folder.file(u"panel.svg"_s)));
        QVERIFY(QFile::exists(m_folder.file(u"panel.pdf"_s)) && QFile::exists(m_folder.file(u"panel.svg"_s)));
        QVERIFY(!page->exportTemplate(m_folder.file(u"no/where.pdf"_s)));
        QVERIFY(d.shows(u"Cannot write"_s));
        d.click(u"The panel"_s);
        d.click(u"Add hole"_s);
        QVERIFY(judged(d, u"open: cover it"_s, u"The panel"_s));
        QVERIFY(put(d, u"Holes it has already"_s, static_cast<int>(d.job().plan.panel->holes.size()) - 1,
                    u"covered"_s, u"yes"_s));
        QVERIFY(!judged(d, u"open: cover it"_s, u"The panel"_s));
        d.click(u"Without a panel"_s);
        QVERIFY(!d.job().plan.panel);
    }
};

REGISTER_TEST(TestFronted, QApplication)
#include "tst_fronted.moc"
