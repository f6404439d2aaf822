// Minimum and dummy load: rail voltage against load current with the window as a band, resistor banks from
// the drawer with their body temperature, and the other school: take the rail away, once its users are known.
#pragma once

#include "core/kinds/dummy_load/dummy_load_view.h"
#include "ui/paint/axes.h"
#include "ui/plan/workspace_page.h"

#include <QWidget>

class QLabel;
class QStackedWidget;

namespace offshoot::ui {

class OptionList;

class LoadPicture : public QWidget
{
    Q_OBJECT

public:
    LoadPicture(Look& look, QWidget* parent = nullptr);
    /// `dummyA`: what the planned dummy load draws besides the users.
    void show(const MinimumLoadView& view, const QString& rail, std::optional<double> dummyA);

Q_SIGNALS:
    /// The load is drawn along, in amperes besides the users; and let go.
    void dragged(double a);
    void dropped(double a);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    std::optional<double> ampsAt(const QPointF& at) const;

    Look& m_look;
    MinimumLoadView m_view;
    QString m_rail;
    std::optional<double> m_dummyA;
    std::optional<Axes> m_axes; ///< as painted last
};

class LoadPage : public WorkspacePage
{
    Q_OBJECT

public:
    LoadPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    QString usersHtml() const;
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    QString optionText(int row) const;
    DummyLoadPlan planOf(int row) const;
    int nearestOption(double a) const;

    MinimumLoadView m_view;
    LoadPicture* m_picture;
    QLabel* m_wanted;
    OptionList* m_options;
    QLabel* m_users;
    QStackedWidget* m_stack;
};

} // namespace offshoot::ui
