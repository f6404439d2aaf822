// The map of the whole job: one ribbon of energy from the mains to the load. Its thickness is the power
// flowing; what is lost peels off it. Stations stand on it with found, planned and measured figures; feedback
// is a thin loop from the output back to the converter.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

namespace offshoot::ui {

class PowerPath : public QWidget
{
    Q_OBJECT

public:
    PowerPath(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    /// The height it needs when it is so wide: every rail beside the first has a lane, and every further
    /// unit.
    int heightAt(int wide) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    bool event(QEvent* event) override;

private:
    /// A column: one station, or several that share it while space is short.
    struct Column
    {
        std::vector<Station> stations;
        QRectF box;
        const StationView* shown; ///< the one whose figures stand there
        Verdict verdict;
    };
    std::vector<Column> columns() const;
    /// A supply that nobody has looked at is one box between mains and load, until it is opened.
    bool closed() const;
    bool inClosedBox(Station station) const;
    /// Opens it at that station, unless it stands outside.
    void open(Station station);
    const StationView& view(Station station) const;
    QRectF feedbackBox() const;
    std::optional<Station> stationAt(QPointF position) const;
    double thickness(double watts) const;
    void paintRibbon(QPainter& painter, const std::vector<Column>& all) const;
    bool selected(const Column& column) const;
    void paintLoss(QPainter& painter, const std::vector<Column>& all, std::size_t at, double bottom) const;
    void paintSelection(QPainter& painter, const Column& column) const;
    void paintColumn(QPainter& painter, const Column& column) const;
    void paintFeedback(QPainter& painter, const std::vector<Column>& all) const;
    void paintLanes(QPainter& painter, const std::vector<Column>& all) const;
    void paintLane(QPainter& painter, std::size_t rail) const;
    void paintUnits(QPainter& painter, const std::vector<Column>& all) const;
    void paintUnit(QPainter& painter, std::size_t unit) const;
    std::size_t laneCount() const;
    int lanesPerRow(int wide) const;
    /// The lane of that place, from 1.
    QRectF laneBox(std::size_t lane) const;
    void paintRowNames(QPainter& painter) const;

    JobSession& m_session;
    Look& m_look;
    bool m_opened = false; ///< the closed box
};

} // namespace offshoot::ui
