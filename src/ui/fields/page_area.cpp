#include "ui/fields/page_area.h"

#include <QEvent>
#include <QLayout>
#include <QScrollBar>
#include <algorithm>

namespace offshoot::ui {

PageArea::PageArea(QWidget* page, QWidget* parent)
    : QScrollArea(parent)
{
    setWidget(page);
    setFocusPolicy(Qt::NoFocus); // it follows the focus of what is on it
    page->installEventFilter(this);
}

/// A resizable area would give a page with wrapped words the height it would like; this one gives what there
/// is, and no less than the page needs.
void PageArea::fit()
{
    QWidget* page = widget();
    const QSize least = page->layout()->minimumSize();
    QSize room = maximumViewportSize();
    if (least.height() > room.height())
        room.rwidth() -= verticalScrollBar()->sizeHint().width();
    page->resize(room.expandedTo(least));
}

void PageArea::resizeEvent(QResizeEvent* event)
{
    QScrollArea::resizeEvent(event);
    fit();
}

void PageArea::showEvent(QShowEvent* event)
{
    QScrollArea::showEvent(event);
    fit(); // what it holds may have changed while nobody saw it
}

bool PageArea::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::LayoutRequest && isVisible())
        fit();
    return QScrollArea::eventFilter(watched, event);
}

} // namespace offshoot::ui
