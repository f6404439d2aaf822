// Ways: every way from what the supply gives to what is wanted, a lane each on one ruler of volts: what it
// reaches, what stops it, what it takes.
#pragma once

#include "core/evaluate/ways.h"
#include "ui/background.h"
#include "ui/choose/own_shelf.h"
#include "ui/plan/workspace_page.h"

class QCheckBox;

namespace offshoot::ui {

class ElidedLine;
class OptionList;
class WindowLabel;

class WaysPage : public WorkspacePage
{
    Q_OBJECT

public:
    WaysPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    bool working() const { return m_work.running(); }

Q_SIGNALS:
    /// It was planned: its workspace is wanted.
    void planned(Way way);

private:
    void refresh() override;
    void take(std::vector<WorkedWay> ways);
    void showWays();
    void showSchools();
    void labelWindow();
    void resizeEvent(QResizeEvent* event) override;
    void planRow(int row);
    const WorkedWay* at(int row) const;
    void paintWay(QPainter& painter, const QRectF& box, int row) const;
    void paintReach(QPainter& painter, const QRectF& box, const WorkedWay& way) const;
    QString wayText(int row) const;
    double x(const QRectF& ruler, double v) const;

    OwnShelf m_shelf;
    std::optional<Job> m_for; ///< the job that the ways are of
    std::vector<WorkedWay> m_ways;
    std::vector<std::size_t> m_shown; ///< of the ways those in the list
    double m_low_v = 0;
    double m_high_v = 1;
    ElidedLine* m_decides;
    WindowLabel* m_ruler;
    QCheckBox* m_all;
    ElidedLine* m_schools;
    OptionList* m_options;
    Background m_work;
};

} // namespace offshoot::ui
