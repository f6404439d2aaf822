// How units share a bus: each unit's current as a layer over the total load, the layers adding up to it. A
// layer that stops growing is at its limit; one that ends has tripped. The load is dragged along the axis.
#pragma once

#include "core/kinds/joined/bus_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class Axes;

class SharePicture : public QWidget
{
    Q_OBJECT

public:
    SharePicture(Look& look, QWidget* parent = nullptr);
    void show(const ParallelView& view, double loadA);

Q_SIGNALS:
    void loadDragged(double amperes);
    void loadReleased(double amperes);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    Axes axes() const;
    double loadAt(QPointF position) const;
    void paintLayers(QPainter& painter, const Axes& axes) const;
    void paintLoad(QPainter& painter, const Axes& axes) const;

    Look& m_look;
    ParallelView m_view;
    double m_loadA = 0;
};

/// The set points on a ruler of volts, each with a handle to drag; the band is how near they must be.
class SetPointRuler : public QWidget
{
    Q_OBJECT

public:
    SetPointRuler(Look& look, QWidget* parent = nullptr);
    void show(const ParallelView& view);

Q_SIGNALS:
    void dragged(std::size_t unit, double volts);
    void released(std::size_t unit, double volts);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    double x(double volts) const;
    double voltsAt(double pixel) const;

    Look& m_look;
    ParallelView m_view;
    double m_low = 0;
    double m_high = 1;
    std::optional<std::size_t> m_held; ///< place of the unit whose handle is dragged
};

} // namespace offshoot::ui
