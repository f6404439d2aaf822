// Wire and sense: the voltage along the run there and back, the sizes that would do, what remote sense does
// instead and what an opened sense wire does, and how many wires of a cut harness are wanted.
#pragma once

#include "core/kinds/wire/wire_view.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QPushButton;
class QStackedWidget;

namespace offshoot::ui {

class RunPicture : public QWidget
{
    Q_OBJECT

public:
    RunPicture(Look& look, QWidget* parent = nullptr);
    void show(const WireView& view, const Job& job);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    WireView m_view;
    std::optional<Target> m_target;
    bool m_remote = false;
};

class WirePage : public WorkspacePage
{
    Q_OBJECT

public:
    WirePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* runFields();
    QWidget* senseFields();
    QWidget* side();
    void refresh() override;
    QString senseHtml() const;
    QString mergeHtml() const;
    void paintSize(QPainter& painter, const QRectF& box, int row) const;
    QString sizeText(int row) const;

    WireView m_view;
    RunPicture* m_picture;
    OptionList* m_sizes;
    QStackedWidget* m_stack;
    QLabel* m_sense;
    QLabel* m_merge;
    QLabel* m_school;
    QPushButton* m_remote = nullptr;
};

} // namespace offshoot::ui
