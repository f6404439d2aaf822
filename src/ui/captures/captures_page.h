// Captures: before and after on one axis and over frequency, what changed, and the file on its way in.
#pragma once

#include "core/evaluate/captures_view.h"
#include "ui/background.h"
#include "ui/plan/workspace_page.h"

class QComboBox;
class QFormLayout;
class QLineEdit;
class QPushButton;

namespace offshoot::ui {

class CaptureIntake;
class SpectrumPicture;
class TracePicture;

class CapturesPage : public WorkspacePage
{
    Q_OBJECT

public:
    CapturesPage(CaptureIntake& intake, JobSession& session, Look& look, QWidget* parent = nullptr);

Q_SIGNALS:
    /// A file is to be looked for.
    void fileWanted();

private:
    void refresh() override;
    QWidget* intakeForm();
    void showIntake();
    void takeLoad();
    /// Reads the samples of what is shown, off the interface thread.
    void readSamples();
    QString figuresHtml(const ComparedCaptures& compared) const;
    /// The file that waits, as if it were logged already.
    std::optional<ComparedCaptures> waiting() const;

    CaptureIntake& m_intake;
    std::optional<ComparedCaptures> m_shown;
    Background m_reading; ///< of samples
    CapturesView m_view;
    TracePicture* m_trace;
    SpectrumPicture* m_spectrum;
    QComboBox* m_which;
    QLabel* m_doubts;
    QLabel* m_says;
    QWidget* m_form;
    QLabel* m_formSays;
    QComboBox* m_point;
    QComboBox* m_column;
    QLineEdit* m_load;
    QString m_loadProblem; ///< what was typed there does not read
    QPushButton* m_keep;
};

} // namespace offshoot::ui
