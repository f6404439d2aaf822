// Noise filter: what passes over frequency, with the parts' parasitics, the ripple where it switches as
// numbers, the peak and its cure.
#pragma once

#include "core/evaluate/noise_view.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QPushButton;

namespace offshoot::ui {

class GainPicture : public QWidget
{
    Q_OBJECT

public:
    GainPicture(Look& look, QWidget* parent = nullptr);
    void show(const NoiseView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    NoiseView m_view;
};

class NoisePage : public WorkspacePage
{
    Q_OBJECT

public:
    NoisePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;

    NoiseView m_view;
    GainPicture* m_picture;
    QLabel* m_figures;
    QPushButton* m_damp;
};

} // namespace offshoot::ui
