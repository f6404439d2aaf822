#include "ui/refresh.h"

#include <QEvent>

namespace offshoot::ui {

namespace {

class Refresher : public QObject
{
public:
    Refresher(QWidget& widget, JobSession& session, Look& look, std::function<void()> refresh)
        : QObject(&widget)
        , m_widget(widget)
        , m_refresh(std::move(refresh))
    {
        widget.installEventFilter(this);
        connect(&session, &JobSession::changed, this, &Refresher::changed);
        connect(&look, &Look::changed, this, &Refresher::changed);
    }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override
    {
        if (event->type() == QEvent::Show && m_stale)
            run();
        return QObject::eventFilter(watched, event);
    }

private:
    void changed()
    {
        m_stale = true;
        if (m_widget.isVisible())
            run();
    }
    void run()
    {
        m_stale = false;
        m_refresh();
    }

    QWidget& m_widget;
    std::function<void()> m_refresh;
    bool m_stale = true;
};

} // namespace

void refreshWhileVisible(QWidget& widget, JobSession& session, Look& look, std::function<void()> refresh)
{
    new Refresher(widget, session, look, std::move(refresh));
}

} // namespace offshoot::ui
