// The bench of a rehearsal drawn as things: outlet, limiter, the unit with its lid, its reservoirs and
// outputs, the meter with its lead, the load. What is drawn is what is connected; each thing can be clicked,
// or reached by keys.
#pragma once

#include "core/rehearse/procedure_play.h"
#include "ui/look.h"

#include <QWidget>
#include <vector>

namespace offshoot::ui {

class BenchPicture : public QWidget
{
    Q_OBJECT

public:
    BenchPicture(const Look& look, QWidget* parent = nullptr);
    void show(const RehearsedJob& rehearsed);
    using QWidget::show;
    /// What a click on each thing would do: the move, and the box that it is drawn in.
    struct Spot
    {
        QRectF box;
        QString move;
        QString name;
    };
    const std::vector<Spot>& spots() const { return m_spots; }
    QSize sizeHint() const override;

Q_SIGNALS:
    void wanted(const QString& move);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void place();
    void paintFeed(QPainter& painter) const;
    void paintUnit(QPainter& painter) const;
    void paintMeter(QPainter& painter) const;
    void paintLoad(QPainter& painter) const;
    QRectF boxOf(const QString& name) const;
    double px(double length) const { return m_look.px(length); }

    const Look& m_look;
    const RehearsedJob* m_rehearsed = nullptr;
    std::vector<Spot> m_spots;
    int m_chosen = -1; ///< by keys
    QRectF m_unit;
    QRectF m_meter;
};

} // namespace offshoot::ui
