// Trim: rail against rail, the windows as a rectangle, the trimmer's travel as a line through the reading.
// Dragging along the line previews every rail; Enter plans the setting.
#pragma once

#include "core/kinds/trim/trim_view.h"
#include "ui/plan/workspace_page.h"

#include <QWidget>

class QComboBox;
class QLabel;

namespace offshoot::ui {

class TrimPicture : public QWidget
{
    Q_OBJECT

public:
    TrimPicture(Look& look, QWidget* parent = nullptr);
    /// Two of the view's rails by their places in its list; equal for the only one there is.
    void show(const TrimView& view, std::size_t across, std::size_t up, double scale);
    double scale() const { return m_scale; }

Q_SIGNALS:
    void dragged(double scale);
    void released(double scale);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Side
    {
        QString label;
        double v;
        double min_v;
        double max_v;
    };
    Side side(std::size_t rail) const;
    double scaleAt(QPointF position) const;
    class Plot;

    Look& m_look;
    TrimView m_view;
    std::size_t m_across = 0;
    std::size_t m_up = 0;
    double m_scale = 1;
};

class TrimPage : public WorkspacePage
{
    Q_OBJECT

public:
    TrimPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* side();
    void refresh() override;
    void fillRails();
    void preview(double scale);
    void plan(double scale);
    TrimPlan planAt(double scale) const;

    TrimView m_view;
    TrimPicture* m_picture;
    QComboBox* m_trimmer = nullptr;
    QComboBox* m_across = nullptr;
    QComboBox* m_up = nullptr;
    QLabel* m_legend;
    QLabel* m_table = nullptr;
    QLabel* m_next = nullptr;
};

} // namespace offshoot::ui
