// What the module reaches on its feed, beside what it could and what is wanted; under it each potentiometer
// with where a broken wire takes the output.
#pragma once

#include "core/kinds/rehouse/rehouse_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class ReachPicture : public QWidget
{
    Q_OBJECT

public:
    ReachPicture(Look& look, QWidget* parent = nullptr);
    void show(const Job& job, const RehouseView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Bar
    {
        QString name;
        QString value;
        double from;
        double to;
        bool wanted = false;
        bool planned = false;
    };
    struct Fall
    {
        double to;
        Verdict verdict;
        QString text;
    };

    double at(double v) const;
    void paintBar(QPainter& painter, double y, const Bar& bar) const;
    void paintPot(QPainter& painter, double y, const Bar& bar, const std::vector<Fall>& falls) const;

    Look& m_look;
    std::vector<Bar> m_bars;
    std::vector<std::pair<Bar, std::vector<Fall>>> m_pots; ///< of the volts
    double m_most_v = 1;
    double m_set_v = 0;
};

} // namespace offshoot::ui
