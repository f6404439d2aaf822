// A reading against its window, drawn: the band, the found value where it is near, the reading with its
// doubt.
#pragma once

#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class ReadingGauge : public QWidget
{
    Q_OBJECT

public:
    /// `found` is the before-reading under the same load, if there is one.
    ReadingGauge(const Asked& asked, const std::optional<TakenReading>& taken, std::optional<double> found,
                 const Look& look, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Asked m_asked;
    std::optional<TakenReading> m_taken;
    std::optional<double> m_found;
    const Look& m_look;
    double m_low;
    double m_high;
};

} // namespace offshoot::ui
