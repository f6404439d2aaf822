// The steps of one stage: the list at the left, the step at hand at the right with its cautions, checks, the
// reading it asks for and, when a reading breaks, the faults that explain it.
#pragma once

#include "ui/procedure/step_list.h"

#include <QListView>
#include <QWidget>
#include <map>

class QLabel;
class QScrollArea;
class QVBoxLayout;
class QPushButton;

namespace offshoot::ui {

class ProcedureView : public QWidget
{
    Q_OBJECT

public:
    ProcedureView(Stage stage, JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Ticks the step at hand, with its checks as they stand.
    bool tickCurrent();
    const StepView* current() const;

Q_SIGNALS:
    void logWanted(const QString& begin);
    void rehearsalWanted();

private:
    void follow();
    void showStep();
    QString signature(const StepView& view) const;
    void fillCautions(QVBoxLayout& layout, const StepView& view);
    void fillSources(QVBoxLayout& layout, const StepView& view);
    void fillChecks(QVBoxLayout& layout, const StepView& view);
    void fillDrawings(QVBoxLayout& layout, const Step& step);
    void fillReadings(QVBoxLayout& layout, const StepView& view);
    void fillLamp(QVBoxLayout& layout, const StepView& view);
    void fillDiagnosis(QVBoxLayout& layout);
    void fillLogButton(QVBoxLayout& layout, const StepView& view);
    std::optional<double> foundBeside(const Step& step) const;
    void showCountdown();

    JobSession& m_session;
    Look& m_look;
    StepModel* m_model;
    QListView* m_list;
    QScrollArea* m_area;
    QPushButton* m_tick = nullptr;
    QLabel* m_refusal = nullptr;
    QLabel* m_countdown = nullptr;
    QString m_signature;
    std::map<std::string, std::vector<bool>> m_checks;
    std::map<std::string, double> m_waits; ///< step id → when its countdown ends
};

} // namespace offshoot::ui
