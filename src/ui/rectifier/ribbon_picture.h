// The stretch of the power path from the rectifier to the load, looked at closely: a ribbon as high as the
// voltage moves at each place, its parts standing below as things. Parts are chosen, put in, moved, taken out
// and given other values by keys and by mouse.
#pragma once

#include "core/kinds/chain/chain_ribbon.h"
#include "ui/look.h"
#include "ui/paint/axes.h"

#include <QWidget>

namespace offshoot::ui {

/// Places in the row of parts: 0 the secondary, 1 the rectifier, then the sections, last the load.
inline constexpr int firstSection = 2;

/// What is shown of a chain.
struct RibbonShown
{
    ChainRibbon ribbon = {};
    std::vector<SimFigures> places = {};         ///< one for each place of the ribbon; empty before a run
    std::vector<SimFigures> before = {};         ///< as found, where that differs
    std::vector<ChainSpread::Place> spread = {}; ///< the outermost of the tolerances
    QString corners = {};                        ///< the worst of them, in words
    QString reading = {};                        ///< how the picture is read
    double running = -1;                         ///< share of a run under way
};

class RibbonPicture : public QWidget
{
    Q_OBJECT

public:
    RibbonPicture(Look& look, QWidget* parent = nullptr);
    void show(RibbonShown shown);
    int chosen() const { return m_chosen; }
    void choose(int part);
    /// Where a part stands, and the gap behind it.
    QRectF thingBox(int part) const;
    QPointF gapAfter(int part) const;

Q_SIGNALS:
    void chose(int part);
    void putIn(int section, offshoot::SmoothingKind kind); ///< before that section
    void moved(int from, int to);                          ///< before the section at `to` now
    void takenOut(int section);
    /// Of its value when the dragging began; `done` where it ends there.
    void scaled(int section, double share, bool done);
    void stepped(int section, bool up);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    const ChainPart& partOf(int part) const { return m_shown.ribbon.parts[static_cast<std::size_t>(part)]; }
    int count() const { return static_cast<int>(m_shown.ribbon.parts.size()); }
    bool isSection(int part) const { return part >= firstSection && part + 1 < count(); }
    double slot() const;
    double middleOf(int part) const;
    double stand() const; ///< where the parts stand
    QRectF valueBox(int part) const;
    int partAt(QPointF at) const;
    int gapAt(QPointF at) const; ///< the part before it; -1 for none
    Axes axes() const;
    struct Edge
    {
        double x;
        double low_v;
        double mean_v;
        double high_v;
    };
    /// The ribbon's edges from left to right; of a chain of other parts spread evenly.
    std::vector<Edge> edges(const std::vector<SimFigures>& places) const;
    void paintRibbon(QPainter& painter, const Axes& axes) const;
    void paintFound(QPainter& painter, const Axes& axes) const;
    /// Of the figures over what stands there; empty where nothing does.
    QRectF figuresBox(std::size_t place, const Axes& axes) const;
    void paintPlaces(QPainter& painter, const Axes& axes) const;
    void paintWindow(QPainter& painter, const Axes& axes) const;
    void paintPart(QPainter& painter, const Axes& axes, int part) const;
    void paintThing(QPainter& painter, int part, const QRectF& box) const;
    void paintGap(QPainter& painter, int part) const;
    void choosePutIn(int part, QPoint where);

    enum class Drag { None, Thing, Value };

    Look& m_look;
    RibbonShown m_shown;
    int m_chosen = 0;
    Drag m_drag = Drag::None;
    bool m_dragging = false; ///< moved far enough to mean it
    QPointF m_pressed;
    QPointF m_at;
};

} // namespace offshoot::ui
