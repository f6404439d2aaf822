// Old wires at the left, in the colour that they have and labelled with what was measured; the new terminals
// at the right. A wire is pulled to a terminal, or walked through with the keys.
#pragma once

#include "core/kinds/replace/wiring_view.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

class WiresPicture : public QWidget
{
    Q_OBJECT

public:
    WiresPicture(Look& look, QWidget* parent = nullptr);
    void show(const WiringView& view);
    /// Its place in the view; nothing without wires.
    std::optional<std::size_t> current() const;

Q_SIGNALS:
    void looked();
    void pulled(std::size_t wire, std::size_t terminal);
    /// To the next terminal that could take it, or the one before.
    void walked(std::size_t wire, int by);
    void automaticWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Row
    {
        std::optional<std::size_t> wire;
        std::optional<std::size_t> terminal;
    };
    void arrange();
    double rowHeight() const;
    double rowTop(std::size_t row) const { return m_look.px(24) + rowHeight() * static_cast<double>(row); }
    QRectF terminalBox(std::size_t terminal) const;
    std::optional<std::size_t> rowAt(QPointF at) const;
    std::optional<std::size_t> terminalAt(QPointF at) const;
    void paintRow(QPainter& painter, std::size_t row) const;
    void paintTerminal(QPainter& painter, std::size_t terminal) const;
    void select(std::size_t row);
    double left() const { return width() * 0.41; }
    double right() const { return width() * 0.57; }

    Look& m_look;
    WiringView m_view;
    std::vector<Row> m_rows;
    std::size_t m_current = 0; ///< a row with a wire
    std::optional<QPointF> m_drag;
};

} // namespace offshoot::ui
