// The primaries with their dots, taps and lead names, the links of a connection and what the secondaries
// give.
#pragma once

#include "core/kinds/windings/windings_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class PrimariesPicture : public QWidget
{
    Q_OBJECT

public:
    PrimariesPicture(Look& look, QWidget* parent = nullptr);
    void show(const WindingsView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Lead
    {
        QString name;
        QPointF at;
    };
    std::vector<std::vector<Lead>> leads() const;
    QRectF coilBox(std::size_t winding) const;
    const Connection* connection() const;
    void paintCoil(QPainter& painter, std::size_t winding, const std::vector<Lead>& leads) const;
    void paintLinks(QPainter& painter, const std::vector<std::vector<Lead>>& leads) const;
    void paintSecondaries(QPainter& painter) const;

    Look& m_look;
    WindingsView m_view;
};

} // namespace offshoot::ui
