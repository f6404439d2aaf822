// Every field and every cell of every page of four demo jobs, with what people type and mistype: taken as a
// job that can be saved and undone to the letter, or refused with the text kept. Nothing in between.
#include "ui/driver.h"
#include "ui/fields/job_table.h"
#include "ui/fields/value_field.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"

#include <QTableView>
#include <algorithm>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

const QStringList typed{QString(),  u"abc"_s, u"-5"_s,           u"0"_s, u"12"_s, u"4k7"_s,
                        u"1e300"_s, u"nan"_s, QString(300, u'x')};

/// Whether a job is one that its own file can hold. No edit touches the log.
bool holds(Job job)
{
    try {
        job.log.clear();
        return readJob(writeJob(job)) == job;
    } catch (const DocumentError&) {
        return false;
    }
}

} // namespace

class TestEditing : public QObject
{
    Q_OBJECT

    TestFolder m_folder;
    // Each is tried once, in the first job that shows it.
    std::set<QString> m_fields;
    std::set<QString> m_tables;
    std::set<QString> m_rows; // once with rows in it
    std::set<QString> m_boxes;
    int m_taken = 0;
    int m_refused = 0;
    int m_chosen = 0;

    JobStore open(const QString& name)
    {
        const QString path = m_folder.file(name);
        writeFile(path, QByteArray::fromStdString(sourceFile((u"data/jobs/"_s + name).toUtf8().constData())));
        return JobStore::open(path);
    }
    /// Takes back what was done since `depth`, and says whether the job is as it was.
    static bool undone(Driver& d, int depth, const Job& before)
    {
        QUndoStack& stack = d.window->session().undoStack();
        while (stack.index() > depth)
            stack.undo();
        return sameEdits(d.job(), before);
    }

    void fields(Driver& d)
    {
        QUndoStack& stack = d.window->session().undoStack();
        for (auto* field : d.window->findChildren<ui::ValueField*>()) {
            const QString place =
                QString::fromLatin1(field->parentWidget()->metaObject()->className()) + field->label();
            if (!m_fields.insert(place).second || field->line().isReadOnly())
                continue;
            for (const QString& text : typed) {
                const Job before = d.job();
                const int depth = stack.index();
                field->line().setText(text);
                field->line().setModified(true);
                Q_EMIT field->line().editingFinished();
                const QByteArray what = (place + u" takes \""_s + text.left(20) + u'"').toUtf8();
                if (sameEdits(d.job(), before)) {
                    // Refused with its reason and the text kept, or it was that value already.
                    const bool kept = field->line().text() == text && !field->problem().isEmpty();
                    const bool word =
                        text.size() > 3 ? text.front().isLetter() : text.endsWith(u'c') || text == u"nan"_s;
                    QVERIFY2(kept || (field->problem().isEmpty() && !word), what.constData());
                    m_refused += kept ? 1 : 0;
                } else {
                    QVERIFY2(holds(d.job()), what.constData());
                    QVERIFY2(field->problem().isEmpty(), what.constData());
                    QVERIFY2(stack.index() > depth, what.constData());
                    ++m_taken;
                }
                QVERIFY2(undone(d, depth, before), what.constData());
            }
        }
    }

    void cells(Driver& d)
    {
        QUndoStack& stack = d.window->session().undoStack();
        for (auto* model : d.window->findChildren<ui::JobTableModel*>()) {
            if (!m_tables.insert(model->spec().name).second)
                continue;
            if (model->spec().add && model->rowCount() == 0)
                model->add();
            for (int column = 0; column < model->columnCount(); ++column)
                for (int row = 0; row < std::min(model->rowCount(), 2); ++row) {
                    const QModelIndex cell = model->index(row, column);
                    if ((model->flags(cell) & Qt::ItemIsEditable) == 0)
                        continue;
                    QStringList texts = typed;
                    texts += model->spec().columns[static_cast<std::size_t>(column)].choices;
                    for (const QString& text : texts) {
                        const Job before = d.job();
                        const int depth = stack.index();
                        const bool good = model->setData(cell, text, Qt::EditRole);
                        const QByteArray what =
                            (model->spec().name + u", "_s +
                             model->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString() +
                             u" takes \""_s + text.left(20) + u'"')
                                .toUtf8();
                        if (good) {
                            QVERIFY2(holds(d.job()), what.constData());
                            QVERIFY2(undone(d, depth, before), what.constData());
                            ++m_taken;
                        } else {
                            QVERIFY2(sameEdits(d.job(), before), what.constData());
                            QCOMPARE(cell.data(Qt::EditRole).toString(), text.trimmed());
                            ++m_refused;
                        }
                    }
                }
        }
    }

    /// A box shows what the job holds: an entry that is taken stays, one that is refused goes back, and undo
    /// brings back the one before.
    void boxes(Driver& d)
    {
        const auto shown = [&d](const QString& name) -> QComboBox* {
            QApplication::processEvents();
            QApplication::processEvents(); // what the first round made anew is shown by the second
            for (auto* box : d.window->findChildren<QComboBox*>())
                if (box->isVisible() && box->accessibleName() == name)
                    return box;
            return nullptr;
        };
        const auto tryAll = [&] {
            QApplication::processEvents();
            QStringList names;
            for (const auto* box : d.window->findChildren<QComboBox*>())
                if (box->isVisible() && m_boxes.insert(box->accessibleName()).second)
                    names << box->accessibleName();
            for (const QString& name : names) {
                const int first = shown(name)->currentIndex();
                for (int entry = 0; entry < shown(name)->count(); ++entry) {
                    const Job before = d.job();
                    const int depth = d.window->session().undoStack().index();
                    auto* box = shown(name);
                    box->setCurrentIndex(entry);
                    Q_EMIT box->activated(entry);
                    const QByteArray what = (name + u", entry %1"_s.arg(entry)).toUtf8();
                    QVERIFY2(holds(d.job()), what.constData());
                    if (sameEdits(d.job(), before))
                        continue;
                    ++m_chosen;
                    if (shown(name) != nullptr)
                        QVERIFY2(shown(name)->currentIndex() == entry, what.constData());
                    QVERIFY2(undone(d, depth, before), what.constData());
                    if (shown(name) == nullptr)
                        return;
                    QVERIFY2(shown(name)->currentIndex() == first, what.constData());
                }
            }
        };
        d.stage(1);
        tryAll();
        d.stage(2);
        for (std::size_t i = 0; i < station_count; ++i) {
            d.window->session().select(static_cast<Station>(i));
            tryAll();
        }
        d.stage(3);
        for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
            d.window->planPage().show(kind);
            tryAll();
        }
    }

    /// Rows come and go, and the job is the same after as many undos.
    void rows(Driver& d)
    {
        // What is in a case, on a front or brought out has a place only when there is one.
        d.window->session().edit(u"a case"_s, [](Job& job) {
            job.found.space = CaseSpace{.inside = {0.3, 0.2, 0.1}};
            job.plan.panel = PanelPlan{.width_m = 0.3, .height_m = 0.1};
            job.plan.rehouse = RehousePlan{};
        });
        QUndoStack& stack = d.window->session().undoStack();
        for (auto* model : d.window->findChildren<ui::JobTableModel*>()) {
            if (!model->spec().add)
                continue;
            const QByteArray name = model->spec().name.toUtf8();
            const Job before = d.job();
            const int depth = stack.index();
            const int count = model->rowCount();
            if (m_rows.contains(model->spec().name))
                continue;
            if (count > 0)
                m_rows.insert(model->spec().name);
            model->add();
            model->add();
            QVERIFY2(model->rowCount() == count + 2, name.constData());
            QVERIFY2(holds(d.job()), name.constData());
            while (model->rowCount() > static_cast<int>(model->spec().least)) {
                const int rows = model->rowCount();
                model->remove(rows - 1); // the first may be the unit on the bench
                QVERIFY2(model->rowCount() == rows - 1, name.constData());
                QVERIFY2(holds(d.job()), name.constData());
            }
            const int least = model->rowCount();
            model->remove(0);
            QCOMPARE(model->rowCount(), least); // these must stay
            QVERIFY2(undone(d, depth, before), name.constData());
            QCOMPARE(model->rowCount(), count);
        }
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    void edits_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file : {u"splicing-bench.offshoot"_s, u"hatch-heater.offshoot"_s,
                                    u"chart-recorder.offshoot"_s, u"barograph-amplifier.offshoot"_s})
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    /// Whatever is typed, chosen, added or taken away gives a job that its file can hold, or is refused where
    /// it stands; undo brings back what was there.
    void edits()
    {
        QFETCH(QString, file);
        Driver d(open(file));
        d.window->setUpdatesEnabled(false); // what is painted is no matter here
        d.visit();
        for (void (TestEditing::*part)(Driver&) :
             {&TestEditing::boxes, &TestEditing::fields, &TestEditing::cells, &TestEditing::rows}) {
            const Job before = d.job();
            const int depth = d.window->session().undoStack().index();
            (this->*part)(d);
            if (QTest::currentTestFailed())
                return;
            QVERIFY(undone(d, depth, before));
        }
    }

    void enough()
    {
        QVERIFY(m_fields.size() > 40 && m_tables.size() > 6);
        QVERIFY(m_taken > 300 && m_refused > 300 && m_chosen > 30);
    }

    /// Cells with a choice open as a box of its entries; the entry chosen is the one that is taken.
    void choices()
    {
        Driver d(open(u"splicing-bench.offshoot"_s));
        d.stage(2);
        d.click(u"Rails"_s);
        int opened = 0;
        for (auto* view : d.window->findChildren<QTableView*>()) {
            const auto* model = qobject_cast<ui::JobTableModel*>(view->model());
            if (!view->isVisible() || model == nullptr || model->rowCount() == 0)
                continue;
            for (int column = 0; column < model->columnCount(); ++column) {
                const QStringList& entries = model->spec().columns[static_cast<std::size_t>(column)].choices;
                const QModelIndex cell = model->index(model->rowCount() - 1, column);
                if (entries.isEmpty())
                    continue;
                const QString wanted =
                    entries.front() == cell.data().toString() ? entries.back() : entries.front();
                view->setCurrentIndex(cell);
                view->edit(cell);
                auto* box = view->viewport()->findChild<QComboBox*>();
                QVERIFY(box != nullptr);
                QCOMPARE(box->currentText(), cell.data(Qt::EditRole).toString());
                box->setCurrentText(wanted);
                QTest::keyClick(box, Qt::Key_Return);
                QApplication::processEvents(); // the delegate takes it when the key is through
                // Said to be the one under change, a rail goes to the top.
                const QModelIndex first = model->index(0, column);
                QVERIFY(cell.data().toString() == wanted || first.data().toString() == wanted);
                QVERIFY(d.window->session().undoStack().canUndo());
                QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
                d.window->session().undoStack().undo();
                ++opened;
            }
        }
        QVERIFY(opened >= 4);
    }
};

REGISTER_TEST(TestEditing, QApplication)
#include "tst_editing.moc"
