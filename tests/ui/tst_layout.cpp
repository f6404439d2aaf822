// Every page of every demo job in two window sizes and with larger text: no words cut off, nothing over
// something else, nothing outside the window; every control named and on the Tab chain.
#include "ui/driver.h"
#include "ui/fields/job_table.h"
#include "ui/found/found_page.h"
#include "ui/plan/plan_page.h"
#include "ui/test_folder.h"

#include <QComboBox>
#include <QDir>
#include <QHeaderView>
#include <QLabel>
#include <QLayout>
#include <QScrollArea>
#include <QSplitter>
#include <QStyleOptionComboBox>
#include <QTableView>
#include <algorithm>
#include <set>

using namespace offshoot;
using namespace offshoot::test;

namespace {

QString described(const QWidget& widget)
{
    QString text = QString::fromLatin1(widget.metaObject()->className()) + u' ' + widget.objectName() +
                   widget.accessibleName();
    if (const auto* button = qobject_cast<const QAbstractButton*>(&widget))
        text += u" \"%1\""_s.arg(button->text());
    if (const auto* label = qobject_cast<const QLabel*>(&widget))
        text += u" \"%1\""_s.arg(label->text().left(60));
    return text;
}

bool scrolled(const QWidget& widget)
{
    for (const QWidget* parent = widget.parentWidget(); parent != nullptr; parent = parent->parentWidget())
        if (qobject_cast<const QAbstractScrollArea*>(parent) != nullptr)
            return true;
    return false;
}

/// Words that do not fit their label, their button or their box.
QString cutOff(const QWidget& widget)
{
    if (const auto* box = qobject_cast<const QComboBox*>(&widget)) {
        QStyleOptionComboBox option;
        option.initFrom(box);
        const QRect field =
            box->style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, box);
        return !box->isEditable() &&
                       box->fontMetrics().horizontalAdvance(box->currentText()) > field.width() + 2
                   ? described(widget) + u" \"%1\" is cut off"_s.arg(box->currentText())
                   : QString();
    }
    if (const auto* button = qobject_cast<const QAbstractButton*>(&widget))
        return !button->text().isEmpty() && button->sizeHint().width() > button->width() + 2
                   ? described(widget) + u" is cut off"_s
                   : QString();
    const auto* label = qobject_cast<const QLabel*>(&widget);
    if (label == nullptr || label->text().isEmpty())
        return {};
    const bool wide = !label->wordWrap() && label->sizeHint().width() > label->width() + 2;
    const bool high = label->wordWrap() && label->heightForWidth(label->width()) > label->height() + 2;
    return wide || high ? described(widget) + u" is cut off"_s : QString();
}

/// A field too low for its text, or a table of the job too low for its rows.
QString squeezed(const QWidget& widget)
{
    const auto* table = qobject_cast<const QTableView*>(&widget);
    if (table != nullptr && qobject_cast<const ui::JobTableModel*>(table->model()) != nullptr &&
        table->viewport()->height() < table->verticalHeader()->length())
        return described(widget) + u" is squeezed"_s;
    const auto* line = qobject_cast<const QLineEdit*>(&widget);
    return line != nullptr && line->height() < line->fontMetrics().height()
               ? described(widget) + u" is squeezed"_s
               : QString();
}

/// What lies over a sibling.
QString overlapping(const QWidget& parent)
{
    if (qobject_cast<const QAbstractScrollArea*>(&parent) != nullptr ||
        qobject_cast<const QSplitter*>(&parent) != nullptr || parent.layout() == nullptr)
        return {};
    std::vector<const QWidget*> shown;
    for (const QObject* child : parent.children())
        if (const auto* widget = qobject_cast<const QWidget*>(child);
            widget != nullptr && widget->isVisible() && !widget->isWindow() && !widget->size().isEmpty() &&
            parent.layout()->indexOf(widget) >= 0)
            shown.push_back(widget);
    for (std::size_t i = 0; i < shown.size(); ++i)
        for (std::size_t k = i + 1; k < shown.size(); ++k)
            if (shown[i]->geometry().adjusted(1, 1, -1, -1).intersects(shown[k]->geometry()))
                return described(*shown[i]) + u" lies over "_s + described(*shown[k]);
    return {};
}

/// The visible widgets of a window, without those of its dialogs; most of a window is behind another page.
std::vector<QWidget*> shownOf(const QWidget& window)
{
    std::vector<QWidget*> shown;
    const auto add = [&shown](const auto& self, const QWidget& parent) -> void {
        for (QObject* child : parent.children())
            if (auto* widget = qobject_cast<QWidget*>(child);
                widget != nullptr && widget->isVisible() && !widget->isWindow()) {
                shown.push_back(widget);
                self(self, *widget);
            }
    };
    add(add, window);
    return shown;
}

/// What is wrong with the page that is shown.
QStringList faults(const QWidget& window)
{
    QStringList list;
    for (const QWidget* widget : shownOf(window)) {
        for (const QString& fault : {cutOff(*widget), squeezed(*widget), overlapping(*widget)})
            if (!fault.isEmpty())
                list << fault;
        const bool control = (widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled();
        if (control && !scrolled(*widget)) {
            const QRect place(widget->mapTo(&window, QPoint()), widget->size());
            if (!window.rect().contains(place))
                list << described(*widget) + u" is outside the window"_s;
        }
    }
    return list;
}

/// Tab goes round through every control that is shown, and comes back; those that it does not meet, and where
/// it comes to the page once more after it left it.
QStringList offTheChain(const QWidget& window)
{
    std::set<const QWidget*> wanted;
    for (const QWidget* widget : shownOf(window))
        if (widget->isEnabled() && widget->focusProxy() == nullptr &&
            (widget->focusPolicy() & Qt::TabFocus) != 0)
            wanted.insert(widget);
    const QWidget* at = &window;
    QStringList list;
    const auto* page = window.findChild<QWidget*>(u"workspace"_s);
    int entered = 0;
    bool within = false;
    do {
        at = at->nextInFocusChain();
        if (wanted.erase(at) == 0)
            continue;
        const bool was = std::exchange(within, page->isAncestorOf(at));
        if (within && !was && ++entered > 1)
            list << described(*at) + u" comes after what is not on the page"_s;
    } while (at != &window);
    for (const QWidget* widget : wanted)
        list << described(*widget) + u" is not on the Tab chain"_s;
    return list;
}

} // namespace

class TestLayout : public QObject
{
    Q_OBJECT

    TestFolder m_folder;
    int m_number = 0; ///< of the job

    JobStore open(const QString& name)
    {
        const QString path = m_folder.file(name);
        writeFile(path, QByteArray::fromStdString(sourceFile((u"data/jobs/"_s + name).toUtf8().constData())));
        return JobStore::open(path);
    }

    /// Whether a button that says so was there to be clicked.
    static bool clicked(const Driver& d, const QString& text)
    {
        for (QWidget* widget : shownOf(*d.window))
            if (auto* button = qobject_cast<QAbstractButton*>(widget);
                button != nullptr && button->text() == text) {
                button->click();
                return true;
            }
        return false;
    }

    /// Shows every page of a window in turn.
    static void everyPage(Driver& d, const std::function<void(const QString&)>& look)
    {
        for (int stage = 1; stage <= 6; ++stage) {
            d.stage(stage);
            if (stage == 2)
                for (const ui::FoundTab tab :
                     {ui::FoundTab::Identity, ui::FoundTab::Walk, ui::FoundTab::Rails}) {
                    d.window->foundPage().showTab(tab);
                    look(u"found %1"_s.arg(static_cast<int>(tab)));
                }
            if (stage == 2)
                d.window->foundPage().showTab(ui::FoundTab::Parts);
            if (stage != 3) {
                bool tabs = false;
                for (const QString& tab :
                     {u"Steps"_s, u"Board"_s, u"Captures"_s, u"Over time"_s, u"Readouts"_s,
                      u"Before and after"_s, u"Unit beside unit"_s, u"Last steps"_s})
                    if (stage > 3 && clicked(d, tab)) {
                        tabs = true;
                        look(u"stage %1, "_s.arg(stage) + tab);
                    }
                if (!tabs)
                    look(u"stage %1"_s.arg(stage));
                continue;
            }
            for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
                d.window->planPage().show(kind);
                look(u"plan %1"_s.arg(static_cast<int>(kind)));
            }
        }
    }

private Q_SLOTS:
    void initTestCase() { startWindowTests(); }
    void init() { m_folder.renew(); }

    void fits_data()
    {
        QTest::addColumn<QString>("file");
        for (const QString& file :
             QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/jobs")).entryList({u"*.offshoot"_s}))
            QTest::addRow("%s", qPrintable(file)) << file;
        QTest::newRow("empty") << QString();
    }
    void fits()
    {
        QFETCH(QString, file);
        struct Setting
        {
            QSize size;
            int percent;
        };
        std::vector<Setting> settings{{{1024, 700}, 130}};
        if (m_number % 3 == 0) // what fits is seldom cut off with smaller words or more room
            settings.insert(settings.end(), {{{1024, 700}, 100}, {{1280, 800}, 100}});
        if (m_number++ % 9 == 0)
            settings.push_back({{1024, 700}, 80});
        Driver d(file.isEmpty() ? JobStore::untitled() : open(file), settings[0].size, settings[0].percent);
        d.window->setUpdatesEnabled(false); // where things lie, not how they are painted
        QStringList all;
        for (const auto& [size, percent] : settings) {
            d.window->resize(size);
            d.window->look().set({.dark = size.width() > 1024, .percent = percent});
            everyPage(d, [&, size = size, percent = percent](const QString& page) {
                QApplication::processEvents();
                QCOMPARE(d.window->size(), size); // nothing forces it wider
                QStringList found = faults(*d.window);
                constexpr int settles_ms = 60; // what came from a worker is laid out in the next round
                if (!found.isEmpty())
                    QTest::qWait(settles_ms);
                if (!found.isEmpty())
                    found = faults(*d.window);
                if (percent >= 100)
                    found += offTheChain(*d.window);
                for (const QString& fault : found)
                    all << u"%1, %2 %, "_s.arg(size.width()).arg(percent) + page + u": "_s + fault;
            });
        }
        all.removeDuplicates();
        QVERIFY2(all.isEmpty(), qPrintable(all.join(u"\n"_s)));
    }
};

REGISTER_TEST(TestLayout, QApplication)
#include "tst_layout.moc"
