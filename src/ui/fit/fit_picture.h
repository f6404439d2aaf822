// The case from above and from its front or its side, to scale: walls, what stays, vents, old holes, the
// units with the room that they want, and the gaps with their numbers. A unit is dragged, or moved by keys.
#pragma once

#include "core/kinds/replace/fit_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class FitPicture : public QWidget
{
    Q_OBJECT

public:
    FitPicture(Look& look, QWidget* parent = nullptr);
    /// `unit` is the one that is moved.
    void show(const Job& job, std::size_t unit, const FitView& view);
    /// What stands below the view from above: the case from its right side, or from its front.
    void setFromSide(bool side);
    bool fromSide() const { return m_side; }

Q_SIGNALS:
    /// While it is dragged, and once more where it was let go.
    void dragged(double x_m, double y_m);
    void dropped(double x_m, double y_m);
    /// By keys, in metres.
    void nudged(double dx_m, double dy_m);
    void turned();
    void bestWanted();
    void sideWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    struct Scale
    {
        double px_per_m;
        QPointF above;   ///< where the front left corner of the case is, seen from above
        QPointF upright; ///< and the left end of its floor, seen from the front or the side
    };
    Scale scale() const;
    QPointF above(double x_m, double y_m) const;
    QRectF above(const NamedBox& box) const;
    QRectF upright(const NamedBox& box) const;
    void paintCase(QPainter& painter) const;
    void paintStays(QPainter& painter) const;
    void paintUnit(QPainter& painter, std::size_t unit) const;
    void paintAlong(QPainter& painter, const QRectF& box, const QString& text, const QColor& colour) const;
    void paintHoles(QPainter& painter) const;
    void paintGaps(QPainter& painter) const;
    void paintNear(QPainter& painter) const;
    void paintGap(QPainter& painter, QPointF from, QPointF to, double m, const QColor& colour) const;

    Look& m_look;
    std::optional<CaseSpace> m_space;
    std::vector<ReplacingUnit> m_units;
    std::size_t m_unit = 0;
    FitView m_view;
    bool m_side = false;
    std::optional<QPointF> m_grabbed; ///< in metres from the unit's corner
};

} // namespace offshoot::ui
