#include "ui/fields/flow_row.h"

#include <QWidget>
#include <algorithm>

namespace offshoot::ui {

FlowRow::FlowRow(QWidget* parent, int gap)
    : QLayout(parent)
    , m_gap(gap)
{
    setContentsMargins(0, 0, 0, 0);
}

FlowRow::~FlowRow()
{
    for (const QLayoutItem* item : m_items)
        delete item;
}

QLayoutItem* FlowRow::itemAt(int index) const
{
    return index >= 0 && index < count() ? m_items[static_cast<std::size_t>(index)] : nullptr;
}

QLayoutItem* FlowRow::takeAt(int index)
{
    QLayoutItem* item = itemAt(index);
    if (item != nullptr)
        m_items.erase(m_items.begin() + index);
    return item;
}

QSize FlowRow::sizeHint() const
{
    QSize size;
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty()) {
            const QSize hint = item->sizeHint();
            size = {size.width() + hint.width() + m_gap, std::max(size.height(), hint.height())};
        }
    return size;
}

QSize FlowRow::minimumSize() const
{
    QSize size;
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty())
            size = size.expandedTo(item->sizeHint());
    return size;
}

void FlowRow::setGeometry(const QRect& rect)
{
    QLayout::setGeometry(rect);
    const int height = place(rect);
    if (QWidget* widget = parentWidget(); widget->height() != height)
        widget->setFixedHeight(height);
}

int FlowRow::place(const QRect& rect) const
{
    QPoint at = rect.topLeft();
    int high = 0;
    for (QLayoutItem* item : m_items) {
        if (item->isEmpty())
            continue;
        const QSize hint = item->sizeHint();
        if (at.x() > rect.left() && at.x() + hint.width() > rect.left() + rect.width()) {
            at = {rect.left(), at.y() + high + m_gap};
            high = 0;
        }
        item->setGeometry({at, hint});
        at.rx() += hint.width() + m_gap;
        high = std::max(high, hint.height());
    }
    return at.y() + high - rect.top();
}

} // namespace offshoot::ui
