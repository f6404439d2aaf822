// Every action with its shortcut, found by typing: Ctrl+K.
#pragma once

#include <QAction>
#include <QDialog>

class QLineEdit;
class QListWidget;

namespace offshoot::ui {

class CommandPalette : public QDialog
{
    Q_OBJECT

public:
    explicit CommandPalette(const QList<QAction*>& actions, QWidget* parent = nullptr);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void filter(const QString& text);
    void run();

    QList<QAction*> m_actions;
    QLineEdit* m_entry;
    QListWidget* m_list;
};

} // namespace offshoot::ui
