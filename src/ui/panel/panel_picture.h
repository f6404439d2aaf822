// The front to scale: cut-outs with what they carry, their letters, old holes. A part is dragged, or moved by
// keys.
#pragma once

#include "core/kinds/panel/panel_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class PanelPicture : public QWidget
{
    Q_OBJECT

public:
    PanelPicture(Look& look, QWidget* parent = nullptr);
    void show(const std::optional<PanelPlan>& panel, const PanelView& view);
    std::size_t current() const { return m_current; }

Q_SIGNALS:
    void moved(std::size_t item, double x_m, double y_m, bool byKey);
    void removeWanted(std::size_t item);
    void spreadWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    double scale() const;
    QPointF corner() const; ///< lower left, on the screen
    QPointF at(double x_m, double y_m) const;
    QRectF at(const PanelBox& box) const;
    void paintItem(QPainter& painter, std::size_t item) const;
    void paintHoles(QPainter& painter) const;
    bool any() const { return m_panel && !m_panel->items.empty(); }

    Look& m_look;
    std::optional<PanelPlan> m_panel;
    PanelView m_view;
    std::size_t m_current = 0;
    std::optional<QPointF> m_grabbed; ///< metres from the part's middle
};

} // namespace offshoot::ui
