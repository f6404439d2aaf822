// A unit of the shelf put in the old one's place by keys: chosen, moved in the case, wired, its template and
// its card written at true scale.
#include "core/kinds/replace/fit_view.h"
#include "core/kinds/replace/wiring_card.h"
#include "ui/driver.h"
#include "ui/fields/option_list.h"
#include "ui/fit/fit_page.h"
#include "ui/found/photos_page.h"
#include "ui/photos.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"
#include "ui/wires/wires_page.h"

#include <QFileInfo>
#include <QMouseEvent>
#include <QProcess>
#include <QRegularExpression>
#include <QTableView>
#include <algorithm>
#include <cmath>

using namespace offshoot;
using namespace offshoot::test;
using namespace Qt::StringLiterals;

class TestReplacing : public QObject
{
    Q_OBJECT

    TestFolder m_folder;

    static void open(const Driver& d, ui::PlanKind kind)
    {
        d.window->showStage(Stage::Plan);
        d.window->planPage().show(kind);
        QApplication::processEvents();
    }
    static PlacedAt place(const Driver& d) { return *d.job().plan.replace->units.front().place; }

private Q_SLOTS:
    void init() { m_folder.renew(); }

    /// Enter takes the one looked at and places it; a second time keeps the old unit; undo brings it back.
    void chosenByKeys()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        open(d, ui::PlanKind::Choose);
        auto* list = d.find<ui::OptionList>(u"Units on the shelf, best first"_s);
        list->setFocus();
        QCOMPARE(list->model()->data(list->currentIndex(), Qt::DisplayRole).toString().section(u':', 0, 0),
                 u"Oyster 40"_s); // what the plan holds
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(!d.job().plan.replace);
        QTest::keyClick(list, Qt::Key_Down);
        QVERIFY(d.window->session().previewing()); // looking shows what it would bring
        const QString other =
            list->model()->data(list->currentIndex(), Qt::DisplayRole).toString().section(u':', 0, 0);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(!d.window->session().previewing());
        QCOMPARE(QString::fromStdString(d.job().plan.replace->units.front().entry.unit.name), other);
        d.window->session().undoStack().undo();
        QVERIFY(!d.job().plan.replace);
        d.window->session().undoStack().undo();
        QCOMPARE(d.job().plan.replace->units.front().entry.unit.name, std::string("Oyster 40"));
    }

    /// Arrows move by a millimetre, with Shift by ten; R turns a quarter; Home finds the best place again.
    void movedByKeys()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        open(d, ui::PlanKind::Fit);
        auto* picture = d.find<ui::FitPicture>(u"fitPicture"_s);
        picture->setFocus();
        const PlacedAt best = place(d);
        QTest::keyClick(picture, Qt::Key_Right);
        QVERIFY(std::abs(place(d).x_m - best.x_m - 1e-3) < 1e-9);
        QTest::keyClick(picture, Qt::Key_Up, Qt::ShiftModifier);
        QVERIFY(std::abs(place(d).y_m - best.y_m - 10e-3) < 1e-9);
        QTest::keyClick(picture, Qt::Key_R);
        QCOMPARE(place(d).turn, (best.turn + 90) % 360);
        for (int i = 0; i < 12; ++i)
            QTest::keyClick(picture, Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(d.shows(u"It does not go in there"_s));
        const auto broken = std::ranges::find_if(
            d.evaluation().consequences.rows, [](const ConsequenceRow& r) { return r.id == RowId::NewFit; });
        QVERIFY(broken->verdict == Verdict::Breaks);
        QTest::keyClick(picture, Qt::Key_Home);
        QVERIFY(place(d) == best);
    }

    /// Dragged by the mouse it lands on a whole millimetre, as one edit.
    void dragged()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        open(d, ui::PlanKind::Fit);
        auto* picture = d.find<ui::FitPicture>(u"fitPicture"_s);
        const PlacedAt best = place(d);
        const int edits = d.window->session().undoStack().count();
        const QPoint from = picture->rect().center() - QPoint(0, picture->height() / 6);
        QTest::mousePress(picture, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(from + QPoint(17, 9)),
                         picture->mapToGlobal(QPointF(from)), Qt::LeftButton, Qt::LeftButton, {});
        QApplication::sendEvent(picture, &move);
        QTest::mouseRelease(picture, Qt::LeftButton, {}, from + QPoint(17, 9));
        QVERIFY(place(d).x_m > best.x_m && place(d).y_m < best.y_m);
        QVERIFY(std::abs(place(d).x_m * 1e3 - std::round(place(d).x_m * 1e3)) < 1e-6);
        QCOMPARE(d.window->session().undoStack().count(), edits + 1);
    }

    /// The case is typed in: inside, what stays, the holes; what does not read stays with its message.
    void caseTyped()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        d.window->session().edit(u"no case"_s, [](Job& job) {
            job.found.space.reset();
            job.plan.replace->units.front().place.reset();
        });
        open(d, ui::PlanKind::Fit);
        QVERIFY(d.shows(u"how large the case is inside"_s));
        d.click(u"The case"_s);
        d.fill(u"caseInside"_s, u"twenty"_s);
        QVERIFY(d.shows(u"width, depth and height"_s));
        QCOMPARE(d.find<QLineEdit>(u"caseInside"_s)->text(), u"twenty"_s);
        d.fill(u"caseInside"_s, u"240 x 180 x 90"_s);
        QVERIFY(d.job().found.space && d.job().plan.replace->units.front().place);
        d.click(u"Add part"_s);
        d.click(u"Add part"_s);
        const auto& stays = d.job().found.space->keep_out;
        QVERIFY(stays.size() == 2 && stays[0].name != stays[1].name);
        auto* table = d.find<QTableView>(u"What stays in it"_s);
        QVERIFY(!table->model()->setData(table->model()->index(1, 0), QString::fromStdString(stays[0].name),
                                         Qt::EditRole) ||
                stays[0].name != stays[1].name);
        QVERIFY(d.shows(u"this name stands here already"_s));
        QVERIFY(std::abs(d.job().found.space->inside.y_m - 0.18) < 1e-12);
    }

    /// The template's millimetres are those of the PDF, as a program that reads it measures them.
    void trueInPdf()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        open(d, ui::PlanKind::Fit);
        auto* page = d.window->findChild<ui::FitPage*>();
        const TemplateSheets sheets = drillTemplate(d.job(), 0);
        const QString path = m_folder.file(u"drill.pdf"_s);
        QVERIFY(page->exportSheets(sheets, path, u"Drill template"_s));
        QVERIFY(!page->exportSheets(sheets, m_folder.file(u"no/where.pdf"_s), u"Drill template"_s));
        QVERIFY(!page->exportSheets({{}, "too large"}, path, u"Drill template"_s));
        QVERIFY(d.shows(u"too large"_s));
        QVERIFY(page->exportSheets(sheets, m_folder.file(u"drill.svg"_s), u"Drill template"_s));
        QVERIFY(QFile::exists(m_folder.file(u"drill.svg"_s)));
        QProcess reader;
        reader.start(u"pdftocairo"_s, {u"-svg"_s, path, m_folder.file(u"read.svg"_s)});
        if (!reader.waitForFinished() || reader.exitCode() != 0)
            QSKIP("no program here reads a PDF");
        QFile read(m_folder.file(u"read.svg"_s));
        QVERIFY(read.open(QIODevice::ReadOnly));
        const QString svg = QString::fromUtf8(read.readAll());
        // The longest level stroke that is no edge of the case is the line of 100 mm: 283.46 points of 1/72
        // inch.
        static const QRegularExpression line(
            u"d=\"M ([-\\d.]+) ([-\\d.]+) L ([-\\d.]+) ([-\\d.]+)[^\"]*\""
            u"(?:[^>]*transform=\"matrix\\(([-\\d.]+), ?[-\\d.]+, ?[-\\d.]+, ?([-\\d.]+))?"_s);
        bool found = false;
        for (auto at = line.globalMatch(svg); at.hasNext();) {
            const auto m = at.next();
            const double scale = m.captured(5).isEmpty() ? 1 : m.captured(5).toDouble();
            const double dx = (m.captured(3).toDouble() - m.captured(1).toDouble()) * scale;
            const double dy = m.captured(4).toDouble() - m.captured(2).toDouble();
            found = found || (std::abs(dy) < 1e-3 && std::abs(std::abs(dx) - 100 / 25.4 * 72) < 0.15);
        }
        QVERIFY(found);
    }

    /// Wires walk to the terminals that would take them and to no other; Space deals them out again.
    void wiredByKeys()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        open(d, ui::PlanKind::Wires);
        auto* picture = d.find<ui::WiresPicture>(u"wiresPicture"_s);
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Right); // the earth has one place only
        QVERIFY(d.job().plan.replace->pulled.empty());
        QVERIFY(d.shows(u"No other terminal is for"_s));
        d.window->session().edit(u"two terminals of 5 V"_s, [](Job& job) {
            auto& terminals = job.plan.replace->units.front().entry.terminals;
            terminals.push_back(terminals[3]);
            terminals.back().name = "5 V out too";
        });
        const WiringView before = wiringView(d.job());
        for (int i = 0; i < 3; ++i)
            QTest::keyClick(picture, Qt::Key_Down);
        const std::size_t wire = *picture->current();
        QCOMPARE(before.wires[wire].words, std::string("5V"));
        QTest::keyClick(picture, Qt::Key_Right);
        QCOMPARE(d.job().plan.replace->pulled.size(), 1U);
        QVERIFY(wiringView(d.job()).wires[wire].terminal != before.wires[wire].terminal);
        QTest::keyClick(picture, Qt::Key_Space);
        QVERIFY(d.job().plan.replace->pulled.empty());
        while (picture->current() != before.wires.size() - 1) // the white one, which nobody measured
            QTest::keyClick(picture, Qt::Key_Down);
        QTest::keyClick(picture, Qt::Key_Right);
        QVERIFY(d.shows(u"it stays at the old side"_s));
        auto* page = d.window->findChild<ui::WiresPage*>();
        QVERIFY(page->exportCard(m_folder.file(u"card.svg"_s)));
        QFile card(m_folder.file(u"card.svg"_s));
        QVERIFY(card.open(QIODevice::ReadOnly));
        QVERIFY(card.readAll().contains("not measured yet"));
        QVERIFY(page->exportCard(m_folder.file(u"card.pdf"_s)));
        QVERIFY(!page->exportCard(m_folder.file(u"no/card.pdf"_s)));
    }

    /// A module is looked at and taken by keys; the source is typed in, and without it nothing is judged.
    void moduleByKeys()
    {
        Driver d(m_folder.job("lamp-room-clock"));
        open(d, ui::PlanKind::Module);
        auto* list = d.find<ui::OptionList>(u"Modules on this source, best first"_s);
        const auto name = [list] {
            return list->model()->data(list->currentIndex(), Qt::DisplayRole).toString().section(u',', 0, 0);
        };
        QCOMPARE(name(), u"Sprat 9"_s);
        list->setFocus();
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(!d.job().plan.module);
        QTest::keyClick(list, list->currentIndex().row() == 0 ? Qt::Key_Down : Qt::Key_Up);
        QVERIFY(d.window->session().previewing());
        const QString other = name();
        QTest::keyClick(list, Qt::Key_Return);
        QCOMPARE(QString::fromStdString(d.job().plan.module->entry.unit.name), other);
        d.click(u"The source"_s);
        d.fill(u"unloaded"_s, u"16"_s);
        QCOMPARE(*d.job().found.feed->open_v, 16.0);
        d.fill(u"unloaded"_s, u""_s);
        QVERIFY(d.shows(u"what the source in front of the regulator gives"_s));
    }

    /// A photograph is kept beside the job without what the camera wrote into it, and shown in the report;
    /// one that is gone leaves its name.
    void photographs()
    {
        QImage image(40, 30, QImage::Format_RGB32);
        image.fill(Qt::darkGreen);
        image.setText(u"Location"_s, u"somewhere in particular"_s);
        const QString from = m_folder.file(u"front.png"_s);
        QVERIFY(image.save(from));
        Driver d(m_folder.job("tide-house-cabinet"));
        d.log(u"photo "_s + from);
        d.log(u"photo "_s + from);
        const auto kept = [&](std::size_t back) {
            return QString::fromStdString(*d.job().log.at(d.job().log.size() - back).text);
        };
        QCOMPARE(kept(2), u"tide-house-cabinet.photos/front.jpg"_s);
        QCOMPARE(kept(1), u"tide-house-cabinet.photos/front-2.jpg"_s);
        QFile file(m_folder.file(kept(2)));
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(!file.readAll().contains("particular"));
        const auto report = [&] {
            const QString path = m_folder.file(u"report.html"_s);
            if (!d.window->exportTo(u"html"_s, path))
                return QString();
            QFile html(path);
            return html.open(QIODevice::ReadOnly) ? QString::fromUtf8(html.readAll()) : QString();
        };
        QCOMPARE(report().count(u"data:image/jpeg;base64"_s), 2);
        file.remove();
        QCOMPARE(report().count(u"data:image/jpeg;base64"_s), 1);
        QVERIFY(report().contains(u"The photograph is gone."_s) && report().contains(kept(2)));
        d.log(u"photo nowhere.png"_s);
        QCOMPARE(kept(1), u"nowhere.png"_s);
    }

    /// A pin is set, named, moved and taken away by keys; in the report it stands on the photograph and under
    /// it, and a photograph that is gone leaves its pins.
    void pins()
    {
        QImage image(80, 60, QImage::Format_RGB32);
        image.fill(Qt::darkGreen);
        QVERIFY(image.save(m_folder.file(u"board.png"_s)));
        Driver d(m_folder.job("tide-house-cabinet"));
        d.window->showStage(Stage::Found);
        d.click(u"Photos"_s);
        d.log(u"photo "_s + m_folder.file(u"board.png"_s));
        auto* picture = d.find<ui::PinPicture>(u"pinPicture"_s);
        picture->setFocus();
        QTest::keyClick(picture, Qt::Key_Insert);
        QCOMPARE(d.job().pins.size(), 1U);
        d.fill(u"pinName"_s, u"W4"_s);
        QCOMPARE(d.job().pins.front().name, std::string("W4"));
        QTest::keyClick(picture, Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(std::abs(d.job().pins.front().x - 0.55) < 1e-9);
        QTest::mouseClick(picture, Qt::LeftButton, {}, picture->rect().center() + QPoint(0, 40));
        QCOMPARE(d.job().pins.size(), 2U);
        QCOMPARE(*picture->current(), std::size_t{1});
        QTest::keyClick(picture, Qt::Key_N);
        QCOMPARE(*picture->current(), std::size_t{0});
        QTest::keyClick(picture, Qt::Key_P);
        QTest::keyClick(picture, Qt::Key_Delete);
        QCOMPARE(d.job().pins.size(), 1U);
        const QString folder = QFileInfo(m_folder.file(u"board.png"_s)).path();
        const std::string kept = d.job().pins.front().photo;
        const QImage pinned = ui::pinnedPhoto(d.job(), folder, kept);
        QVERIFY(!pinned.isNull() && pinned != QImage(folder + u'/' + QString::fromStdString(kept)));
        QVERIFY(d.window->exportTo(u"html"_s, m_folder.file(u"report.html"_s)));
        QFile html(m_folder.file(u"report.html"_s));
        QVERIFY(html.open(QIODevice::ReadOnly));
        QVERIFY(html.readAll().contains("board.jpg: 1 W4"));
        QFile::remove(folder + u'/' + QString::fromStdString(kept));
        d.window->showStage(Stage::Need);
        d.window->showStage(Stage::Found);
        QVERIFY(picture->accessibleDescription().contains(u"is gone. W4"_s));
    }

    /// Nothing of it is in the demo data: a need, a case, wires and a mains typed into an empty window, a
    /// unit of the shelf taken by keys, its place, a new wire, the printed card and template.
    void fromEmptyWindow()
    {
        Driver d(JobStore::untitled());
        d.click(u"Replace it"_s);
        d.fill(u"Job"_s, u"Signal mast"_s);
        d.fill(u"Voltage"_s, u"24"_s);
        d.fill(u"at least"_s, u"23"_s);
        d.fill(u"at most"_s, u"25"_s);
        d.fill(u"Current"_s, u"2A"_s);
        d.fill(u"Mains"_s, u"230 V"_s);
        d.stage(2);
        d.fill(u"Supply"_s, u"Plover 60"_s);
        d.station(Station::Inlet);
        d.fill(u"Inlet rated"_s, u"10A"_s);
        d.fill(u"Switch rated"_s, u"4"_s);
        d.fill(u"Cord rated"_s, u"6"_s);
        d.station(Station::Fuse);
        d.fill(u"Fuse value"_s, u"2A"_s);
        d.click(u"Rails"_s);
        auto* table = d.find<QTableView>(u"Wires"_s);
        const auto put = [&](int row, const QString& column, const QString& text) {
            QAbstractItemModel* model = table->model();
            for (int c = 0; c < model->columnCount(); ++c)
                if (model->headerData(c, Qt::Horizontal).toString() == column)
                    return model->setData(model->index(row, c), text, Qt::EditRole);
            return false;
        };
        const QStringList names{u"earth"_s, u"L"_s, u"N"_s, u"plus"_s};
        const QStringList functions{u"protective earth"_s, u"live"_s, u"neutral"_s, u"output"_s};
        for (int i = 0; i < names.size(); ++i) {
            d.click(u"Add wire"_s);
            QVERIFY(put(i, u"wire"_s, names[i]));
            QVERIFY2(put(i, u"function"_s, functions[i]), qPrintable(functions[i]));
            QVERIFY(put(i, u"known by"_s, u"measured"_s));
            QVERIFY(put(i, u"size"_s, u"1mm2"_s) && put(i, u"length"_s, u"300mm"_s));
            if (i == 3)
                QVERIFY(put(i, u"rail"_s, u"out"_s) && put(i, u"carries"_s, u"2A"_s));
            else
                put(i, u"bears"_s, u"500V"_s);
        }
        open(d, ui::PlanKind::Choose);
        auto* list = d.find<ui::OptionList>(u"Units on the shelf, best first"_s);
        list->setFocus();
        const auto name = [list] {
            return list->model()->data(list->currentIndex(), Qt::DisplayRole).toString();
        };
        for (int i = 0; i < list->model()->rowCount() && !name().startsWith(u"Oyster 100"_s); ++i)
            QTest::keyClick(list, Qt::Key_Down);
        QTest::keyClick(list, Qt::Key_Return);
        QVERIFY(d.job().plan.replace);
        QCOMPARE(d.job().plan.replace->units.front().entry.unit.name, std::string("Oyster 100"));
        open(d, ui::PlanKind::Fit);
        d.click(u"The case"_s);
        d.fill(u"caseInside"_s, u"220x150x70"_s);
        QVERIFY(d.job().plan.replace->units.front().place);
        auto* fit = d.find<ui::FitPicture>(u"fitPicture"_s);
        fit->setFocus();
        QTest::keyClick(fit, Qt::Key_S);
        QVERIFY(fit->fromSide() && d.button(u"From the front"_s) != nullptr);
        QTest::keyClick(fit, Qt::Key_Left);
        open(d, ui::PlanKind::Wires);
        QVERIFY(!wiringView(d.job()).missing.empty()); // nobody entered the return
        d.click(u"New wires for what is missing"_s);
        const WiringView wired = wiringView(d.job());
        QVERIFY(wired.missing.empty());
        QVERIFY(
            std::ranges::all_of(wired.wires, [](const PlannedWire& w) { return w.terminal.has_value(); }));
        QVERIFY(d.window->findChild<ui::WiresPage*>()->exportCard(m_folder.file(u"card.pdf"_s)));
        auto* page = d.window->findChild<ui::FitPage*>();
        QVERIFY(page->exportSheets(drillTemplate(d.job(), 0), m_folder.file(u"drill.pdf"_s), u"Drill"_s));
        // Every row of it is judged by what was typed: 24 V, 2 A.
        const auto& rows = d.evaluation().consequences.rows;
        QCOMPARE(std::ranges::count(rows, RowId::NewEntry, &ConsequenceRow::id), 3);
        for (const RowId id :
             {RowId::NewVoltage, RowId::NewPeak, RowId::NewInput, RowId::NewEntry, RowId::NewFit}) {
            const auto row = std::ranges::find(rows, id, &ConsequenceRow::id);
            QVERIFY2(row != rows.end() && row->verdict != Verdict::Unknown, word(id).data());
        }
        const auto& steps = d.evaluation().steps;
        for (const char* id :
             {"change.tags", "change.out", "change.alone.outputs", "change.mount", "change.wire.1",
              "change.lid", "bringup.pins", "bringup.line", "signoff.output"})
            QVERIFY2(std::ranges::any_of(steps, [&](const StepView& v) { return v.step.id == id; }), id);
    }

    /// What is to be got goes out as a table.
    void partsList()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        const QString path = m_folder.file(u"parts.csv"_s);
        QVERIFY(d.window->exportTo(u"parts"_s, path));
        QFile csv(path);
        QVERIFY(csv.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(csv.readAll());
        QVERIFY(text.startsWith(u"part,where,replaces,to_get,tool\n"_s));
        QVERIFY(text.contains(u"4 screws M3"_s) && text.contains(u"W8, too short"_s));
    }

    /// Without wires nothing is missing silently: new ones are made and taken back by a button.
    void newWires()
    {
        Driver d(m_folder.job("tide-house-cabinet"));
        d.window->session().edit(u"no wires"_s, [](Job& job) { job.found.wires.clear(); });
        open(d, ui::PlanKind::Wires);
        d.click(u"New wires for what is missing"_s);
        QVERIFY(wiringView(d.job()).missing.empty());
        QVERIFY(!d.button(u"New wires"_s)->isEnabled());
        d.click(u"Without new wires"_s);
        QVERIFY(d.job().plan.replace->new_wires.empty());
    }
};

REGISTER_TEST(TestReplacing, QApplication)
#include "tst_replacing.moc"
