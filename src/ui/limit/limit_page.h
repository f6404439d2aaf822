// Current limit: where it trips and how far that may lie off, against the load's peak and what the supply
// bears; the shunt's heat; other shunts from the drawer.
#pragma once

#include "core/job/workspaces.h"
#include "ui/look.h"
#include "ui/session.h"

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

class LimitPage : public QWidget
{
    Q_OBJECT

public:
    LimitPage(JobSession& session, Look& look, QWidget* parent = nullptr);

protected:
    void hideEvent(QHideEvent* event) override;

private:
    QWidget* senseFields();
    void refresh();
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    QString optionText(int row) const;
    ShuntPlan planOf(int row) const;

    JobSession& m_session;
    Look& m_look;
    LimitView m_view;
    LimitPicture* m_picture;
    QLabel* m_sentence;
    OptionList* m_options;
};

} // namespace offshoot::ui
