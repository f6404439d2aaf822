// The walk along the board to be read at arm's length, with both hands at the board.
#pragma once

#include "ui/found/walk_course.h"
#include "ui/look.h"

#include <QWidget>

class QLineEdit;

namespace offshoot::ui {

class BenchWalk : public QWidget
{
    Q_OBJECT

public:
    BenchWalk(WalkCourse& course, JobSession& session, Look& look, QWidget* parent = nullptr);

Q_SIGNALS:
    void closed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    WalkCourse& m_course;
    JobSession& m_session;
    Look& m_look;
    QLineEdit* m_entry;
};

} // namespace offshoot::ui
