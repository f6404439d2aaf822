// Wiring painted from the connections that are calculated: a level line for each node, an upright part for
// each connection. See core/job/wiring_drawing.h for the layout.
#pragma once

#include "core/evaluate/wiring_drawing.h"
#include "ui/look.h"

#include <QPainter>
#include <QWidget>
#include <map>

namespace offshoot::ui {

/// What stands beside a node's line instead of its name.
using NodeWords = std::map<std::string, QString>;

/// Found parts in ink, added ones strong, what goes out faint and crossed.
void paintWiring(QPainter& painter, const QRectF& area, const Connections& connections, const Look& look,
                 const NodeWords& words = {});

class WiringPicture : public QWidget
{
    Q_OBJECT

public:
    WiringPicture(Connections connections, const Look& look, QWidget* parent = nullptr);
    using QWidget::show;
    void show(Connections connections);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Connections m_connections;
    const Look& m_look;
    WiringDrawing m_drawing;
};

} // namespace offshoot::ui
