// A reading over time: warm-up, charge. The curve as it grows, what ends it, and how long that will take.
#pragma once

#include "core/evaluate/log_line.h"
#include "ui/plan/workspace_page.h"
#include "ui/recording/recording_run.h"

class QComboBox;
class QFormLayout;
class QLineEdit;
class QPushButton;

namespace offshoot::ui {

class CurvePicture : public QWidget
{
    Q_OBJECT

public:
    CurvePicture(const Look& look, QWidget* parent = nullptr);
    void show(std::vector<double> t_s, std::vector<double> values, Quantity quantity, bool live);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const Look& m_look;
    std::vector<double> m_t_s;
    std::vector<double> m_values;
    Quantity m_quantity = Quantity::Voltage;
    bool m_live = false;
};

class RecordingPage : public WorkspacePage
{
    Q_OBJECT

public:
    RecordingPage(RecordingRun& run, JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    QWidget* side();
    void begin();
    /// A rule as it was typed; `wrong` gets what does not read.
    std::optional<double> rule(const QLineEdit& line, Quantity quantity, QString& wrong) const;
    const LogEntry* chosen() const;

    RecordingRun& m_run;
    CurvePicture* m_picture;
    QComboBox* m_past;
    QComboBox* m_point;
    QLineEdit* m_after;
    QLineEdit* m_within;
    QLineEdit* m_for;
    QLineEdit* m_below;
    QLineEdit* m_above;
    QPushButton* m_start;
    QLabel* m_problem;
    QLabel* m_says;
    std::vector<LogPoint> m_points;
};

} // namespace offshoot::ui
