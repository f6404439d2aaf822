#include "ui/frame/command_palette.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

CommandPalette::CommandPalette(const QList<QAction*>& actions, QWidget* parent)
    : QDialog(parent)
    , m_actions(actions)
    , m_entry(new QLineEdit(this))
    , m_list(new QListWidget(this))
{
    setWindowTitle(tr("Every action"));
    setObjectName(u"commandPalette"_s);
    resize(560, 460);
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(m_entry);
    layout->addWidget(m_list);
    m_entry->setPlaceholderText(tr("a word of it: bench, report, drawer, meter"));
    m_entry->setAccessibleName(tr("Find an action"));
    m_list->setAccessibleName(tr("Actions"));
    m_entry->installEventFilter(this);
    connect(m_entry, &QLineEdit::textChanged, this, &CommandPalette::filter);
    connect(m_entry, &QLineEdit::returnPressed, this, &CommandPalette::run);
    connect(m_list, &QListWidget::itemActivated, this, &CommandPalette::run);
    filter({});
}

void CommandPalette::filter(const QString& text)
{
    m_list->clear();
    for (int i = 0; i < m_actions.size(); ++i) {
        const QAction* action = m_actions[i];
        const QString name = action->text().remove(u'&');
        bool every = true;
        for (const QString& word : text.split(u' ', Qt::SkipEmptyParts))
            every = every && name.contains(word, Qt::CaseInsensitive);
        if (!every)
            continue;
        QStringList keys;
        for (const QKeySequence& key : action->shortcuts())
            keys << key.toString(QKeySequence::NativeText);
        auto* item =
            new QListWidgetItem(keys.isEmpty() ? name : u"%1    %2"_s.arg(name, keys.join(u", "_s)), m_list);
        item->setData(Qt::UserRole, i);
        if (!action->isEnabled())
            item->setFlags(Qt::NoItemFlags);
    }
    m_list->setCurrentRow(0);
}

bool CommandPalette::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_entry && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int next = m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentRow(std::clamp(next, 0, m_list->count() - 1));
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

void CommandPalette::run()
{
    const QListWidgetItem* item = m_list->currentItem();
    if (item == nullptr || (item->flags() & Qt::ItemIsEnabled) == 0)
        return;
    QAction* action = m_actions[item->data(Qt::UserRole).toInt()];
    accept();
    QTimer::singleShot(0, action, &QAction::trigger);
}

} // namespace offshoot::ui
