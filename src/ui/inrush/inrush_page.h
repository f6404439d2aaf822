// Inrush: the surge over time at the worst moment, as it is, through the limiter, and as it was captured;
// when the bypass may close, what if it never does, and the parts of its delay.
#pragma once

#include "core/kinds/surge_limiter/inrush_view.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QFormLayout;

namespace offshoot::ui {

class SurgePicture : public QWidget
{
    Q_OBJECT

public:
    SurgePicture(Look& look, QWidget* parent = nullptr);
    void show(const InrushView& view, const std::optional<CapturedSurge>& captured);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    InrushView m_view;
    std::optional<CapturedSurge> m_captured;
};

class InrushPage : public WorkspacePage
{
    Q_OBJECT

public:
    InrushPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Takes a captured surge in; what is wrong with it otherwise.
    QString importSurge(const QString& path);

private:
    QWidget* side();
    QWidget* foundFields();
    void addNtcFields(QFormLayout& form);
    QWidget* limiterFields();
    void refresh() override;
    QString limiterHtml() const;

    InrushView m_view;
    SurgePicture* m_picture;
    QLabel* m_limiter;
    QLabel* m_school;
    QLabel* m_import;
};

} // namespace offshoot::ui
