// A batch at work as a board: where each unit stands, what waits, and the order that ends soonest.
#pragma once

#include "core/evaluate/batch_board.h"
#include "ui/background.h"
#include "ui/plan/workspace_page.h"

class QPushButton;

namespace offshoot::ui {

class BoardPicture : public QWidget
{
    Q_OBJECT

public:
    BoardPicture(JobSession& session, const Look& look, QWidget* parent = nullptr);
    void show(const BatchBoard& board);

Q_SIGNALS:
    /// This unit is to be taken in hand.
    void taken(std::size_t unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF rowOf(std::size_t at) const;
    void paintUnit(QPainter& painter, std::size_t at) const;
    void paintPlan(QPainter& painter, const QRectF& box) const;

    JobSession& m_session;
    const Look& m_look;
    BatchBoard m_board;
    std::size_t m_at = 0; ///< the row the keys are on
};

class BoardPage : public WorkspacePage
{
    Q_OBJECT

public:
    BoardPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    const BatchBoard& board() const { return m_board; }
    bool working() const { return m_work.running(); }

Q_SIGNALS:
    /// A unit was taken in hand: its next step is wanted.
    void unitTaken();

private:
    void refresh() override;

    BatchBoard m_board;
    BoardPicture* m_picture;
    QPushButton* m_off;
    Background m_work;
};

} // namespace offshoot::ui
