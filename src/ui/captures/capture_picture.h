// What an oscilloscope saw before and after, over one axis of time, and over frequency with its lines named.
#pragma once

#include "core/evaluate/captures_view.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class TracePicture : public QWidget
{
    Q_OBJECT

public:
    TracePicture(const Look& look, QWidget* parent = nullptr);
    /// `simulated` is a surge's.
    void show(const std::optional<ComparedCaptures>& compared, const SurgeCurve& simulated);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const Look& m_look;
    std::optional<ComparedCaptures> m_compared;
    SurgeCurve m_simulated;
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
