// Side by side: how the units of the job share the load, what each way of making them share gives here, and
// what a builder can expect before and after trimming.
#pragma once

#include "core/kinds/joined/bus_view.h"
#include "ui/background.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QPushButton;
class QStackedWidget;

namespace offshoot::ui {

class SetPointRuler;
class SharePicture;

class ParallelPage : public WorkspacePage
{
    Q_OBJECT

public:
    ParallelPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* side();
    void refresh() override;
    QString failures() const;
    QString buildsText(const ShareBuilds& builds, std::size_t units) const;
    void drawBuilds();
    void paintBallast(QPainter& painter, const QRectF& box, int row) const;
    QString ballastText(int row) const;
    void setLoad(double amperes, bool keep);
    void setPoint(std::size_t unit, double volts, bool keep);

    ParallelView m_view;
    SharePicture* m_picture;
    SetPointRuler* m_ruler;
    OptionList* m_ballasts;
    QStackedWidget* m_stack;
    QLabel* m_schools;
    QLabel* m_failures;
    QLabel* m_builds;
    QPushButton* m_plan;
    Background m_drawing; ///< of builds
};

} // namespace offshoot::ui
