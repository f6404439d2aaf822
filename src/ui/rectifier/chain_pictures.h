// What the rectifier's page paints: the chain as a strip, its waveforms, its limits as bars.
#pragma once

#include "core/supply/connections.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

/// Kinds of rectifier in the words of the window, in the order of SimRectifier.
const QStringList& rectifierNames();

/// Places in the strip: 0 source, 1 rectifier, then the sections, last the load.
inline constexpr int firstSection = 2;

/// The parts in their order; one is chosen by click or arrow keys.
class ChainStrip : public QWidget
{
    Q_OBJECT

public:
    ChainStrip(Look& look, QWidget* parent = nullptr);
    void show(const RectifierChain* chain, int chosen);
    int chosen() const { return m_chosen; }

Q_SIGNALS:
    void chose(int part);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int count() const;
    QRectF box(int part) const;
    QString name(int part) const;
    QString value(int part) const;
    bool inSeries(int part) const;
    void paintPart(QPainter& painter, int part) const;
    void paintSource(QPainter& painter, QPointF upper, QPointF lower) const;
    void paintRectifier(QPainter& painter, QPointF upper, QPointF lower) const;
    void paintLoad(QPainter& painter, QPointF upper, QPointF lower) const;
    void paintCapacitor(QPainter& painter, QPointF upper, QPointF lower) const;
    void paintInSeries(QPainter& painter, QPointF left, QPointF right, SmoothingKind kind) const;

    Look& m_look;
    std::optional<RectifierChain> m_chain;
    Connections m_wiring;
    int m_chosen = 0;
};

class WavePicture : public QWidget
{
    Q_OBJECT

public:
    WavePicture(Look& look, QWidget* parent = nullptr);
    void show(const std::optional<SteadyResult>& result, const std::optional<SteadyResult>& before,
              bool running, double share);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    std::optional<SteadyResult> m_result;
    std::optional<SteadyResult> m_before;
    bool m_running = false;
    double m_share = 0;
};

/// How much of their limits rectifier and capacitors use.
class LimitBars : public QWidget
{
    Q_OBJECT

public:
    LimitBars(Look& look, QWidget* parent = nullptr);
    void show(std::vector<ConsequenceRow> rows);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    std::vector<ConsequenceRow> m_rows;
};

} // namespace offshoot::ui
