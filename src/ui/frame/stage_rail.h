// The six stages at the left, in the order of the work, each with a ring that shows how complete it is.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QAbstractButton>
#include <QWidget>
#include <array>

namespace offshoot::ui {

QString stageName(Stage stage);

class StageButton : public QAbstractButton
{
    Q_OBJECT

public:
    StageButton(Stage stage, JobSession& session, Look& look, QWidget* parent);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    double complete() const;

    Stage m_stage;
    JobSession& m_session;
    Look& m_look;
};

class StageRail : public QWidget
{
    Q_OBJECT

public:
    StageRail(JobSession& session, Look& look, QWidget* parent = nullptr);
    void show(Stage stage);

Q_SIGNALS:
    void chosen(offshoot::Stage stage);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    std::array<StageButton*, 6> m_buttons{};
};

} // namespace offshoot::ui
