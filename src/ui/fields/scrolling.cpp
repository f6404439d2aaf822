#include "ui/fields/scrolling.h"

#include <QEvent>
#include <utility>

namespace offshoot::ui {

namespace {

/// What nobody sees is not laid out: a look that changes asks every area of every page for the size of all
/// that is in it, which with words that wrap is half of the work.
class Scrolling : public QScrollArea
{
protected:
    bool event(QEvent* event) override
    {
        if (isVisible() || (event->type() != QEvent::StyleChange && event->type() != QEvent::LayoutRequest))
            return QScrollArea::event(event);
        m_stale = true;
        return QAbstractScrollArea::event(event);
    }
    void showEvent(QShowEvent* event) override
    {
        QScrollArea::showEvent(event);
        if (!std::exchange(m_stale, false))
            return;
        QEvent request(QEvent::LayoutRequest);
        QScrollArea::event(&request);
    }

private:
    bool m_stale = false; ///< asked for its size while it was hidden
};

} // namespace

QScrollArea* scrolling(QWidget* widget)
{
    auto* area = new Scrolling;
    area->setWidgetResizable(true);
    area->setWidget(widget);
    return area;
}

} // namespace offshoot::ui
