#include "ui/fields/tabs.h"

#include "ui/fields/flow_row.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

namespace offshoot::ui {

std::vector<QAbstractButton*> addTabs(QHBoxLayout& head, const QStringList& names,
                                      const std::function<void(int)>& chosen)
{
    std::vector<QAbstractButton*> tabs;
    constexpr int gap = 4;
    auto* row = new QWidget;
    auto* flow = new FlowRow(row, gap);
    auto* group = new QButtonGroup(row);
    for (const QString& name : names) {
        auto* button = new QPushButton(name);
        button->setCheckable(true);
        button->setChecked(tabs.empty());
        group->addButton(button, static_cast<int>(tabs.size()));
        flow->addWidget(button);
        tabs.push_back(button);
    }
    head.addWidget(row, 1);
    QObject::connect(group, &QButtonGroup::idClicked, group, chosen);
    return tabs;
}

} // namespace offshoot::ui
