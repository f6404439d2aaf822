// What an oscilloscope saw before and after, over one axis of time, and over frequency with its lines named.
#pragma once

#include "core/evaluate/captures_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "ui/look.h"
#include "ui/paint/axes.h"

#include <QWidget>
#include <array>
#include <memory>

namespace offshoot::ui {

struct TraceScale;

class TracePicture : public QWidget
{
    Q_OBJECT

public:
    TracePicture(const Look& look, QWidget* parent = nullptr);
    /// `simulated` is a surge's.
    void show(const std::optional<ComparedCaptures>& compared, const SurgeCurve& simulated);
    /// What the captures before and after were made of, for a closer look than their outlines allow.
    using Samples = std::array<std::shared_ptr<const CaptureTrace>, 2>;
    void setSamples(Samples samples);
    /// The stretch of time that is looked at; nothing: all of it.
    const std::optional<AxisRange>& lookedAt() const { return m_time_ms; }
    /// Looks `closer` times closer, about `at_ms`; all of it again where that is no less than all.
    void look(double closer, double at_ms);

Q_SIGNALS:
    /// It is looked at closer than outlines go, for the first time.
    void samplesWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    AxisRange allMs() const;
    QRectF axesBox() const;
    void move(double by_ms);
    /// What is known of it from samples where it is looked at closer, 0 before and 1 after.
    CaptureOutline outlineShown(const CaptureStudy& study, std::size_t at) const;
    void paintLimitWords(QPainter& painter, const Axes& axes, const TraceScale& scale) const;

    const Look& m_look;
    std::optional<ComparedCaptures> m_compared;
    SurgeCurve m_simulated;
    Samples m_samples;
    bool m_asked = false; ///< for samples
    std::optional<AxisRange> m_time_ms;
    double m_pulled_from = 0; ///< where the mouse was last
};

class SpectrumPicture : public QWidget
{
    Q_OBJECT

public:
    SpectrumPicture(const Look& look, QWidget* parent = nullptr);
    void show(const std::optional<ComparedCaptures>& compared);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const Look& m_look;
    std::optional<ComparedCaptures> m_compared;
};

} // namespace offshoot::ui
