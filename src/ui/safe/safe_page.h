// Limiter lamp and discharge: which lamp, how it will look and what each look means; how long each reservoir
// keeps its charge, and with what it is taken down.
#pragma once

#include "core/evaluate/safe_view.h"
#include "ui/plan/workspace_page.h"

class QLabel;

namespace offshoot::ui {

class LampPicture : public QWidget
{
    Q_OBJECT

public:
    LampPicture(Look& look, QWidget* parent = nullptr);
    void show(const SafeView& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    SafeView m_view;
};

class DischargePicture : public QWidget
{
    Q_OBJECT

public:
    DischargePicture(Look& look, QWidget* parent = nullptr);
    /// `offS`: how long every source has been off; nothing while live.
    void show(const SafeView& view, std::optional<double> offS);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    SafeView m_view;
    std::optional<double> m_offS;
};

class SafePage : public WorkspacePage
{
    Q_OBJECT

public:
    SafePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    QString banksHtml() const;
    QString nowText(const SafeView::Bank& bank) const;

    SafeView m_view;
    LampPicture* m_lamps;
    DischargePicture* m_discharge;
    QLabel* m_signs;
    QLabel* m_banks;
};

} // namespace offshoot::ui
