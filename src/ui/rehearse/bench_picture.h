// The bench of a rehearsal drawn as things: outlet, limiter, the unit with its lid, its reservoirs and
// outputs, the meter with its lead, the load. What is drawn is what is connected; each thing can be clicked,
// or reached by keys.
#pragma once

#include "core/rehearse/procedure_play.h"
#include "ui/look.h"

#include <QWidget>
#include <optional>
#include <utility>
#include <vector>

namespace offshoot::ui {

class BenchPicture : public QWidget
{
    Q_OBJECT

public:
    BenchPicture(const Look& look, QWidget* parent = nullptr);
    /// `unit` is the one in hand: it is drawn large, the others small above it.
    void show(const RehearsedJob& rehearsed, std::size_t unit = 1);
    using QWidget::show;
    /// What a click on each thing would do: the move, and the box that it is drawn in.
    struct Spot
    {
        QRectF box;
        QString move;
        QString name;
        std::size_t takes = 0; ///< no move: that unit is taken in hand
    };
    const std::vector<Spot>& spots() const { return m_spots; }
    QSize sizeHint() const override;

Q_SIGNALS:
    void wanted(const QString& move);
    void taken(std::size_t unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void place();
    void placeUnits();
    void act(const Spot& spot);
    const Bench& bench() const { return m_rehearsed->benches().unit(m_number); }
    /// As it is typed for the unit in hand: "probe bulk #2".
    QString ofUnit(const QString& move, std::size_t unit) const;
    void paintUnits(QPainter& painter) const;
    void paintJoin(QPainter& painter) const;
    void paintFeed(QPainter& painter) const;
    void paintUnit(QPainter& painter) const;
    void paintMeter(QPainter& painter) const;
    void paintTool(QPainter& painter) const;
    void paintLead(QPainter& painter, const QPointF& from, const QPointF& to, const QColor& colour) const;
    /// The outputs' common negative.
    QPointF returnPoint() const;
    /// Where two leads are clipped to read there: across a reservoir, or from a terminal to the return. A
    /// clamp round a lead, and a reading against the case, have one.
    std::pair<QPointF, std::optional<QPointF>> clipsAt(const QRectF& spot) const;
    void paintLoad(QPainter& painter) const;
    QRectF boxOf(const QString& name) const;
    double px(double length) const { return m_look.px(length); }

    const Look& m_look;
    const RehearsedJob* m_rehearsed = nullptr;
    std::size_t m_number = 1;
    std::vector<Spot> m_spots;
    int m_chosen = -1; ///< by keys
    QRectF m_unit;
    QRectF m_meter;
};

} // namespace offshoot::ui
