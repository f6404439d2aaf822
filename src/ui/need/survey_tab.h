// Measure the load: its states as lanes, what each rail gives in them, and what of that becomes the need.
#pragma once

#include "core/evaluate/survey_view.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace offshoot::ui {

/// Each state a lane for each rail: from least to peak with the meter's doubt, the usual as a stroke; through
/// the lanes of the first rail what the need becomes.
class SurveyPicture : public QWidget
{
    Q_OBJECT

public:
    SurveyPicture(Look& look, QWidget* parent = nullptr);
    void show(const SurveyView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    SurveyView m_view;
};

class SurveyTab : public QWidget
{
    Q_OBJECT

public:
    SurveyTab(JobSession& session, Look& look, QWidget* parent = nullptr);

    /// What is wrong with the file; empty where it was taken.
    QString importCsv(const QString& path);

private:
    void refresh();

    JobSession& m_session;
    QLabel* m_sentence;
    SurveyPicture* m_picture;
    QLabel* m_power;
    QPushButton* m_take;
    QLabel* m_imported;
};

} // namespace offshoot::ui
