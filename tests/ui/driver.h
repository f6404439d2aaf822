// Drives the real window the way a person does: keys, clicks, the log line. The clock is the test's own.
#pragma once

#include "support/support.h"
#include "ui/frame/main_window.h"
#include "ui/plan/plan_page.h"
#include "ui/procedure/procedure_view.h"

#include <QAbstractButton>
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QTimer>
#include <algorithm>

namespace offshoot::test {

using namespace Qt::StringLiterals;

/// Dialogs the tests can answer, and the shipped fonts.
inline void startWindowTests()
{
    QCoreApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    ui::loadFonts();
}

class Driver
{
public:
    explicit Driver(JobStore store, const QSize& size = {1280, 800}, int percent = 100)
        : window(new ui::MainWindow(std::move(store), [this] { return now_s; }, {.percent = percent}))
    {
        window->setAttribute(Qt::WA_DeleteOnClose, false);
        window->resize(size);
        window->show();
        (void)QTest::qWaitForWindowExposed(window.get());
        window->activateWindow();
        (void)QTest::qWaitForWindowActive(window.get());
    }

    const Job& job() const { return window->session().job(); }
    const Evaluation& evaluation() const { return window->session().evaluation(); }

    /// The visible widget of this type and name (object or accessible).
    template <class T>
    T* find(const QString& name) const
    {
        QApplication::processEvents(); // what was just put into a layout is shown by the event loop
        for (T* widget : window->findChildren<T*>())
            if (widget->isVisible() && (widget->objectName() == name || widget->accessibleName() == name))
                return widget;
        qFatal("nothing visible is called %s", qPrintable(name));
    }
    /// Whether a visible label says this.
    bool shows(const QString& text) const
    {
        QApplication::processEvents();
        return std::ranges::any_of(window->findChildren<QLabel*>(), [&](const QLabel* label) {
            return label->isVisible() && label->text().contains(text);
        });
    }
    QAbstractButton* button(const QString& text) const
    {
        QApplication::processEvents();
        for (auto* button : window->findChildren<QAbstractButton*>())
            if (button->isVisible() && button->text().contains(text))
                return button;
        qFatal("no visible button says %s", qPrintable(text));
    }
    void click(const QString& text) const { QTest::mouseClick(button(text), Qt::LeftButton); }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) const
    {
        window->activateWindow(); // a dialog that closed may have taken it
        (void)QTest::qWaitForWindowActive(window.get());
        QWidget* target = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window.get();
        QTest::keyClick(target, key, modifiers);
    }
    void stage(int number) const { press(static_cast<Qt::Key>(Qt::Key_0 + number), Qt::AltModifier); }

    /// Shows every page once, so that every field and table exists.
    void visit() const
    {
        for (int number = 1; number <= 6; ++number) {
            stage(number);
            if (number == 3)
                for (const ui::PlanKind kind : ui::PlanPage::everyKind()) {
                    window->planPage().show(kind);
                    QApplication::processEvents();
                }
        }
        stage(2);
        for (std::size_t i = 0; i < station_count; ++i)
            window->session().select(static_cast<Station>(i));
    }

    /// Types over what a field holds and leaves it with Tab.
    void fill(const QString& name, const QString& text) const
    {
        auto* line = find<QLineEdit>(name);
        line->setFocus();
        QTest::keyClick(line, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClick(line, Qt::Key_Delete);
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Tab);
    }
    /// Chooses an entry of a combo box with the keyboard.
    void choose(const QString& name, const QString& entry) const
    {
        auto* combo = find<QComboBox>(name);
        const int wanted = combo->findText(entry);
        if (wanted < 0)
            qFatal("%s has no entry %s", qPrintable(name), qPrintable(entry));
        combo->setFocus();
        QTest::keyClick(combo, Qt::Key_Home);
        for (int i = 0; i < wanted; ++i)
            QTest::keyClick(combo, Qt::Key_Down);
        if (combo->currentIndex() == wanted && wanted == 0) // nothing moved: say so as a click would
            Q_EMIT combo->activated(0);
    }
    /// Goes to a station of the power path with the keyboard.
    void station(Station station) const
    {
        auto* path = find<QWidget>(u"powerPath"_s);
        path->setFocus();
        for (std::size_t i = 0; i < station_count; ++i)
            QTest::keyClick(path, Qt::Key_Left);
        for (std::size_t i = 0; i < 2 * station_count && window->session().selected() != station; ++i)
            QTest::keyClick(path, Qt::Key_Right);
    }

    /// "/" from wherever the focus is, the text, Enter; a question is answered by Enter again.
    void log(const QString& text) const
    {
        window->setFocus();
        QTest::keyClick(window.get(), Qt::Key_Slash);
        auto* line = find<QLineEdit>(u"logLine"_s);
        line->clear();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        if (!line->text().isEmpty())
            QTest::keyClick(line, Qt::Key_Return);
    }

    ui::ProcedureView* procedure() const
    {
        for (auto* view : window->findChildren<ui::ProcedureView*>())
            if (view->isVisible())
                return view;
        qFatal("no procedure is shown");
    }
    void pass(double seconds) { now_s += seconds; }

    double now_s = 1795255200;
    std::unique_ptr<ui::MainWindow> window;
};

/// Calls `answer` with the next modal dialog of this kind, once it is there.
template <class Dialog>
void answerDialog(const std::function<void(Dialog&)>& answer)
{
    auto* timer = new QTimer(qApp);
    QObject::connect(timer, &QTimer::timeout, timer, [timer, answer] {
        auto* dialog = qobject_cast<Dialog*>(QApplication::activeModalWidget());
        if (dialog == nullptr || !dialog->isVisible())
            return;
        timer->stop();
        timer->deleteLater();
        answer(*dialog);
    });
    timer->start(50);
}

/// Answers the next file dialog with a path.
inline void answerFileDialog(const QString& path)
{
    answerDialog<QFileDialog>([path](QFileDialog& dialog) {
        dialog.findChild<QLineEdit*>(u"fileNameEdit"_s)->setText(path);
        QMetaObject::invokeMethod(&dialog, "accept"); // its completer would take an Enter
    });
}

} // namespace offshoot::test
