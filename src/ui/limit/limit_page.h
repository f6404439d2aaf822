// Current limit: where it trips and how far that may lie off, against the load's peak and what the supply
// bears; the shunt's heat; other shunts from the drawer.
#pragma once

#include "core/kinds/current_limit/current_limit_view.h"
#include "ui/plan/workspace_page.h"

#include <QWidget>

class QLabel;

namespace offshoot::ui {

class OptionList;

class LimitPicture : public QWidget
{
    Q_OBJECT

public:
    LimitPicture(Look& look, QWidget* parent = nullptr);
    void show(const LimitView& view);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintHeat(QPainter& painter, double y) const;

    Look& m_look;
    LimitView m_view;
};

class LimitPage : public WorkspacePage
{
    Q_OBJECT

public:
    LimitPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* senseFields();
    void addThresholdFields(QFormLayout& form);
    void addShuntFields(QFormLayout& form);
    void refresh() override;
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    QString optionText(int row) const;
    ShuntPlan planOf(int row) const;

    LimitView m_view;
    LimitPicture* m_picture;
    OptionList* m_options;
};

} // namespace offshoot::ui
