#include "ui/fields/tabs.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

namespace offshoot::ui {

std::vector<QAbstractButton*> addTabs(QHBoxLayout& head, const QStringList& names,
                                      const std::function<void(int)>& chosen)
{
    std::vector<QAbstractButton*> tabs;
    auto* group = new QButtonGroup(&head);
    for (const QString& name : names) {
        auto* button = new QPushButton(name);
        button->setCheckable(true);
        button->setChecked(tabs.empty());
        group->addButton(button, static_cast<int>(tabs.size()));
        head.addWidget(button);
        tabs.push_back(button);
    }
    QObject::connect(group, &QButtonGroup::idClicked, group, chosen);
    return tabs;
}

} // namespace offshoot::ui
