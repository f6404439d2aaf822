#include "ui/fields/tab_order.h"

#include <vector>

namespace offshoot::ui {

namespace {

/// A part of a window and all that is in it, in the Tab order; also what Tab does not stop at: behind that
/// something may be built later.
std::vector<QWidget*> chained(QWidget& part)
{
    std::vector<QWidget*> list;
    QWidget* at = &part;
    do {
        if (at == &part || part.isAncestorOf(at))
            list.push_back(at);
        at = at->nextInFocusChain();
    } while (at != &part);
    return list;
}

} // namespace

void tabBehind(QWidget& before, QWidget& page)
{
    QWidget* last = &before;
    if (!before.isAncestorOf(&page))
        last = chained(before).back();
    for (QWidget* widget : chained(page)) {
        QWidget::setTabOrder(last, widget);
        last = widget;
    }
}

} // namespace offshoot::ui
