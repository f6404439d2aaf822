// Stacked: the units bottom to top with every terminal's potential to earth; bonds are drawn, and what a
// second one shorts. A click on a bond, or ↑ ↓ and Space, opens it in the plan or closes it again.
#pragma once

#include "core/kinds/joined/stack_view.h"
#include "core/supply/connections.h"
#include "ui/plan/workspace_page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace offshoot::ui {

class StackPicture : public QWidget
{
    Q_OBJECT

public:
    StackPicture(Look& look, QWidget* parent = nullptr);
    void show(const StackView& view);

Q_SIGNALS:
    /// The bond of a unit was clicked, or chosen and Space pressed.
    void bondClicked(std::size_t unit);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double nodeY(std::size_t node) const;
    QRectF unitBox(std::size_t unit) const;
    double earthX() const;
    QRectF bondBox(std::size_t unit) const;
    void paintUnit(QPainter& painter, std::size_t unit) const;
    /// Of the computed connections the part between two nodes; nothing where none joins them.
    const ConnectedPart* partBetween(PartKind kind, const std::string& from, const std::string& to) const;
    void paintBond(QPainter& painter, std::size_t unit) const;
    void paintConflicts(QPainter& painter) const;
    void paintNodes(QPainter& painter) const;

    Look& m_look;
    StackView m_view;
    std::size_t m_chosen = 0; ///< the unit whose bond the keys are on
};

class StackPage : public WorkspacePage
{
    Q_OBJECT

public:
    StackPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* side();
    void refresh() override;
    void toggleBond(std::size_t unit);

    StackView m_view;
    StackPicture* m_picture;
    QComboBox* m_earthed = nullptr;
    QLabel* m_advice = nullptr;
    QPushButton* m_plan = nullptr;
    QPushButton* m_open = nullptr;
};

} // namespace offshoot::ui
