// What a job file can hold and what the window can enter are the same: every field, cell, box, tick, list and
// button of every page is tried, and the keys of the file that changed are compared with its schema.

#include "ui/driver.h"
#include "ui/fields/job_table.h"
#include "ui/fields/option_list.h"
#include "ui/found/found_page.h"
#include "ui/found/identity_page.h"
#include "ui/frame/meter_dialog.h"
#include "ui/need/need_page.h"
#include "ui/plan/plan_page.h"
#include "ui/rectifier/rectifier_page.h"
#include "ui/retune/retune_page.h"
#include "ui/test_folder.h"

#include <QPointer>
#include <QPushButton>
#include <QTableView>
#include <algorithm>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

/// The keys of a job file that somebody edits, with "*" for the places in a list and the names in a map.
class KeysOfFile
{
public:
    KeysOfFile()
        : m_schema(jobSchema().at("properties"))
    {}
    static Json edited(const Job& job)
    {
        return Json{{"title", job.title},
                    {"need", writeJson(job.need, NullPolicy::Omit)},
                    {"found", writeJson(job.found, NullPolicy::Omit)},
                    {"plan", writeJson(job.plan, NullPolicy::Omit)},
                    {"hiccup", writeJson(job.hiccup, NullPolicy::Omit)},
                    {"meter", writeJson(job.meter, NullPolicy::Omit)}};
    }
    std::set<std::string> all() const
    {
        std::set<std::string> keys;
        for (const char* part : parts)
            collect(m_schema.at(part), std::string("/") + part, keys);
        return keys;
    }
    void changed(const Json& before, const Json& now, std::set<std::string>& keys) const
    {
        for (const Json& step : Json::diff(before, now)) {
            const std::string at = step.at("path").get<std::string>();
            if (!step.contains("value"))
                continue; // taken away: it was added before, or will be again
            const Json& value = step.at("value");
            const Json leaves = value.is_structured() ? value.flatten() : Json{{"", value}};
            for (const auto& [below, leaf] : leaves.items())
                keys.insert(keyOf(at + below));
        }
    }

private:
    static constexpr std::array parts{"title", "need", "found", "plan", "hiccup", "meter"};

    static void collect(const Json& schema, const std::string& at, std::set<std::string>& keys)
    {
        if (schema.contains("properties"))
            for (const auto& [key, below] : schema.at("properties").items())
                collect(below, std::string(at).append("/").append(key), keys);
        else if (schema.contains("items"))
            collect(schema.at("items"), at + "/*", keys);
        else if (schema.contains("additionalProperties") && schema.at("additionalProperties").is_object())
            collect(schema.at("additionalProperties"), at + "/*", keys);
        else
            keys.insert(at);
    }
    std::string keyOf(const std::string& path) const
    {
        std::string key;
        const Json* schema = nullptr;
        for (const QString& token : QString::fromStdString(path).split(u'/', Qt::SkipEmptyParts)) {
            std::string name = token.toStdString();
            if (schema == nullptr) {
                schema = &m_schema.at(name);
            } else if (schema->contains("items")) {
                schema = &schema->at("items");
                name = "*";
            } else if (schema->contains("properties") && schema->at("properties").contains(name)) {
                schema = &schema->at("properties").at(name);
            } else if (schema->contains("additionalProperties")) {
                schema = &schema->at("additionalProperties");
                name = "*";
            }
            key += "/" + name;
        }
        return key;
    }

    Json m_schema;
};

/// Keys that come in another way, which has its own test: rows are answered in the consequences panel, set
/// points dragged.
const std::set<std::string> comesAnotherWay{
    "/plan/accepted/*/part", "/plan/accepted/*/rail", "/plan/accepted/*/reason", "/plan/accepted/*/row",
    "/plan/refits/*/rail", "/plan/refits/*/rating", "/plan/refits/*/row", "/plan/join/settings/*/unit",
    "/plan/join/settings/*/v_set_v",
    // In Bring-up: see tst_captures, tst_beside_steps.
    "/meter/probe_factor", "/meter/amps_per_volt", "/plan/rehouse/readouts/*/points/*/u"};
/// And what comes off the shelf as it is, wires that are pulled or made new, readouts, pins on photographs:
/// see tst_choose, tst_replacing, tst_beside_steps.
const std::vector<std::string> comesWhole{"/plan/replace/units/*/entry/",
                                          "/plan/replace/units/*/rails/",
                                          "/plan/replace/units/*/selector",
                                          "/plan/replace/units/*/idle/",
                                          "/plan/replace/new_wires/",
                                          "/plan/replace/pulled/",
                                          "/plan/module/",
                                          "/readouts/",
                                          "/pins/"};

/// Changes whatever the pages hold, and takes it back: fields and cells by the first text that is taken,
/// boxes, ticks, lists and buttons by each of their entries. A field, a cell or an entry that was taken under
/// its name need not be tried once more in another job.
class Everything
{
public:
    Everything(Driver& d, std::vector<const QWidget*> pages, bool shownOnly = false)
        : m_session(d.window->session())
        , m_pages(std::move(pages))
        , m_shownOnly(shownOnly)
    {}
    void fields() const
    {
        for (const auto& line : all<QLineEdit>()) {
            const QString name = line ? nameOf(*line) : QString();
            for (const QString& text : texts()) {
                if (!line || line->isReadOnly() || known().contains(name))
                    break;
                line->setText(text);
                line->setModified(true);
                Q_EMIT line->editingFinished();
                const bool done = taken();
                if (done && !name.isEmpty())
                    known().insert(name);
                if (done || !line)
                    break;
                line->setModified(false);
            }
        }
    }
    void cells() const
    {
        for (const auto& view : all<QTableView>()) {
            auto* model = qobject_cast<ui::JobTableModel*>(view->model());
            if (model == nullptr)
                continue;
            const int depth = m_session.undoStack().index();
            if (model->spec().add)
                model->add();
            for (int row = 0; row < std::min(model->rowCount(), 2); ++row) {
                const QStringList& kinds = model->spec().columns[0].choices;
                for (int kind = 0; kind < std::max<int>(1, static_cast<int>(kinds.size())); ++kind) {
                    const int before = m_session.undoStack().index();
                    if (!kinds.isEmpty()) // each kind of part has figures of its own
                        model->setData(model->index(row, 0), kinds[kind], Qt::EditRole);
                    for (int column = 0; column < model->columnCount(); ++column)
                        tryCell(*model, model->index(row, column),
                                u"%1 %2 %3 %4"_s.arg(model->spec().name).arg(row).arg(kind).arg(column));
                    taken(before);
                }
            }
            taken(depth);
        }
    }
    void boxesAndTicks() const
    {
        for (const auto& box : all<QComboBox>()) {
            const int first = box ? box->currentIndex() : -1;
            const QString name = box ? nameOf(*box) : QString();
            const auto choose = [&](int entry) {
                const QString words = name + u'=' + box->itemText(entry);
                if (!name.isEmpty() && known().contains(words))
                    return;
                box->setCurrentIndex(entry);
                Q_EMIT box->activated(entry);
                if (taken())
                    known().insert(words);
            };
            for (int entry = 0; box && entry < box->count(); ++entry)
                choose(entry);
            if (box && first >= 0)
                choose(first); // not every box is of the job: which unit is shown, which rail
        }
        for (const auto& tick : all<QCheckBox>())
            if (tick) {
                tick->click();
                taken();
            }
    }
    void listsAndButtons() const
    {
        for (const auto& list : all<QListView>())
            if (list && list->currentIndex().isValid()) {
                QTest::keyClick(list, Qt::Key_Return);
                QTest::keyClick(list, Qt::Key_Down);
                QTest::keyClick(list, Qt::Key_Return);
                taken();
            }
        for (const auto& list : all<ui::OptionList>())
            for (int row = 0; list && row < 2; ++row) {
                QTest::keyClick(list, row == 0 ? Qt::Key_Home : Qt::Key_End);
                QTest::keyClick(list, Qt::Key_Return);
                taken();
            }
        for (const auto& button : all<QPushButton>()) {
            if (!button || !button->isEnabled() || button->isHidden() || button->text().endsWith(u'…'))
                continue;
            button->click();
            taken();
        }
    }

private:
    /// What was taken so far.
    static std::set<QString>& known()
    {
        static std::set<QString> names;
        return names;
    }
    /// Its own name, and its page's; nothing where it has none, or has one for whichever part is chosen.
    static QString nameOf(const QWidget& widget)
    {
        if (widget.accessibleName().isEmpty())
            return {};
        QString name = widget.objectName() + u'/' + widget.accessibleName();
        for (const QWidget* at = widget.parentWidget(); at != nullptr; at = at->parentWidget()) {
            if (qobject_cast<const ui::RectifierPage*>(at))
                return {};
            name += u'/' + QLatin1StringView(at->metaObject()->className()) + at->objectName();
        }
        return name;
    }
    static const QStringList& texts()
    {
        static const QStringList list{u"12"_s,     u"0.3"_s,        u"3"_s,        u"700"_s, u"AWG20"_s,
                                      u"red"_s,    u"1k"_s,         u"p1 40"_s,    u"1mA"_s, u"-1uA"_s,
                                      u"30, 40"_s, u"200x150x60"_s, u"5.02/5.00"_s};
        return list;
    }
    template <class T>
    QList<QPointer<T>> all() const
    {
        QApplication::processEvents();
        QList<QPointer<T>> list;
        for (const QWidget* page : m_pages)
            for (T* widget : page->findChildren<T*>())
                if (!m_shownOnly || onShownPage(*widget))
                    list << widget;
        return list;
    }
    void tryCell(ui::JobTableModel& model, const QModelIndex& cell, const QString& name) const
    {
        if (known().contains(name))
            return;
        const int before = m_session.undoStack().index();
        for (const QString& text :
             model.spec().columns[static_cast<std::size_t>(cell.column())].choices + texts()) {
            model.setData(cell, text, Qt::EditRole);
            if (taken(before)) {
                known().insert(name);
                return;
            }
        }
    }
    /// Whether its workspace is the one that is seen, though perhaps another tab of it.
    static bool onShownPage(const QWidget& widget)
    {
        for (const QWidget* at = &widget; at != nullptr; at = at->parentWidget())
            if (qobject_cast<const ui::WorkspacePage*>(at))
                return at->isVisible();
        return true;
    }
    /// Takes back what was done since `depth`; whether anything was.
    bool taken(int depth) const
    {
        QUndoStack& stack = m_session.undoStack();
        const bool any = stack.index() > depth;
        while (stack.index() > depth)
            stack.undo();
        return any;
    }
    bool taken() const { return taken(m_depth); }

    ui::JobSession& m_session;
    std::vector<const QWidget*> m_pages;
    bool m_shownOnly; ///< of the plan's workspaces
    int m_depth = m_session.undoStack().index();
};
/// The chain's parts have their fields one part at a time: through every kind of rectifier, diode and
/// load.
void chains(Driver& d, int number)
{
    d.window->planPage().show(ui::PlanKind::Rectifier);
    d.window->session().edit(u"chain"_s, [number](Job& job) {
        const bool doubler = number % 2 == 0;
        RectifierChain chain = usualChain(doubler ? SimRectifier::Doubler : SimRectifier::Bridge, job);
        chain.load = loadAs(static_cast<LoadDraw>(number % 3), chain.load, 24);
        chain.rectifier.diode = usualDiode(static_cast<DiodeModel>(number % 3));
        for (const SmoothingKind kind : {SmoothingKind::L, SmoothingKind::R, SmoothingKind::C})
            chain.insertSection(chain.filter.size(), {.kind = kind, .c_f = 1e-4, .l_h = 1, .r_ohm = 10});
        const auto last = static_cast<std::int64_t>(chain.filter.size()) - 1;
        chain.tap_loads = {{.section = last, .load = loadAs(drawOf(chain.load), {.current_a = 0.1}, 24)}};
        job.plan.chain = chain;
    });
    auto* ribbon = d.find<ui::RibbonPicture>(u"chainRibbon"_s);
    const int parts = 2 + static_cast<int>(d.job().plan.chain->filter.size());
    for (int part = 0; part <= parts; ++part) {
        QTest::keyClick(ribbon, part == 0 ? Qt::Key_Home : Qt::Key_Right);
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        const Everything everything(d, {d.window->findChild<ui::RectifierPage*>()});
        everything.fields();
        if (part == 0)
            everything.listsAndButtons();
    }
}
} // namespace

class TestReach : public QObject
{
    Q_OBJECT

    TestFolder m_folder;
    std::set<std::string> m_reached;
    int m_jobs = 0;

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    /// Whatever the job file can hold of need, found, plan and meter, somebody can enter in the window: the
    /// first four jobs try every field, three topologies each, the others plan what those cannot.
    void reaches_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file : {u"splicing-bench"_s, u"hatch-heater"_s, u"tide-house-cabinet"_s,
                                    u"sample-bath"_s, u"mast-camera"_s, u"chart-recorder"_s,
                                    u"lamp-room-clock"_s, u"beacon-float-charge"_s, u"radio-link"_s})
            QTest::addRow("%s", qPrintable(file)) << file;
    }
    void reaches()
    {
        QFETCH(QString, file);
        constexpr int withFields = 4;
        const int number = m_jobs++;
        const KeysOfFile keys;
        Driver d(m_folder.job(file.toStdString()));
        d.window->setUpdatesEnabled(false); // what is painted is no matter here
        ui::JobSession& session = d.window->session();
        Json last = KeysOfFile::edited(d.job());
        connect(&session, &ui::JobSession::changed, d.window.get(), [&] {
            Json now = KeysOfFile::edited(d.job());
            keys.changed(last, now, m_reached);
            last = std::move(now);
        });
        d.visit();
        const QWidget* need = d.window->findChild<ui::NeedPage*>();
        const QWidget* found = d.window->findChild<ui::FoundPage*>();
        const QWidget* plan = &d.window->planPage();
        const ui::Look look;
        const ui::MeterDialog meter(session, look);
        if (number < withFields) {
            const Everything everything(d, {need, found, plan, &meter});
            everything.fields();
            everything.cells();
            everything.boxesAndTicks();
        }
        if (number == 0) { // these are the same in every job
            d.stage(1);
            Everything(d, {need}).listsAndButtons();
            d.stage(2);
            Everything(d, {found->findChild<ui::IdentityPage*>()}).listsAndButtons();
        }
        d.stage(2);
        for (int topology = 3 * number; number < withFields && topology < std::min(10, 3 * number + 3);
             ++topology) {
            session.edit(u"topology"_s,
                         [&](Job& job) { job.found.topology = static_cast<Topology>(topology); });
            for (std::size_t i = 0; i < station_count; ++i) {
                if (number > 0 && static_cast<Station>(i) != Station::Converter)
                    continue; // what differs by topology is there
                session.select(static_cast<Station>(i));
                const Everything parts(d, {found->findChild<QWidget*>(u"stationParts"_s)});
                parts.fields();
                parts.boxesAndTicks();
            }
        }
        d.stage(3);
        session.edit(u"nothing chosen"_s, [](Job& job) { job.plan.chosen.reset(); });
        for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
            d.window->planPage().show(kind);
            Everything(d, {plan}, true).listsAndButtons();
        }
        if (number < withFields)
            chains(d, number);
    }

    void reachesAll()
    {
        QStringList never;
        for (const std::string& key : KeysOfFile().all()) {
            // The chain as found is the planned one, said to stand so.
            const std::string chain = "/found/mains_side/chain/";
            const bool found = key.starts_with(chain);
            if (!m_reached.contains(found ? "/plan/chain/" + key.substr(chain.size()) : key) &&
                !comesAnotherWay.contains(key) &&
                std::ranges::none_of(comesWhole, [&](const std::string& at) { return key.starts_with(at); }))
                never << QString::fromStdString(key);
        }
        QVERIFY2(never.isEmpty(), qPrintable(u"never entered: "_s + never.join(u' ')));
        for (const std::string& key : comesAnotherWay)
            QVERIFY2(KeysOfFile().all().contains(key) && !m_reached.contains(key), key.c_str());
    }
};

REGISTER_TEST(TestReach, QApplication)
#include "tst_reach.moc"
