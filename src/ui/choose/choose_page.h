// Choose: every unit of the shelf that could serve the need, a lane for each rail, best first; what each asks
// for, and what was judged of it, worst first.
#pragma once

#include "core/evaluate/choose_view.h"
#include "ui/background.h"
#include "ui/choose/own_shelf.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QLineEdit;
class QPushButton;

namespace offshoot::ui {

class OptionList;

class ChoosePage : public WorkspacePage
{
    Q_OBJECT

public:
    ChoosePage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Reads a shelf as CSV in the place of the one there is; nothing is taken where a line does not read.
    bool importCsv(const QString& path);
    bool exportCsv(const QString& path);

private:
    void refresh() override;
    void take(ChooseView view);
    void showDetails();
    QWidget* side();
    QWidget* tools();
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    void paintRail(QPainter& painter, const QRectF& box, const MatchedRail& rail) const;
    QString optionText(int row) const;
    QString detailsHtml() const;
    void echoPlate(const QString& text);
    void putPlate();
    void intoJob();
    void takeCurrent();
    void planRow(Job& job, int row) const;
    void onShelf();
    void tell(const QString& problem, const QString& done);

    OwnShelf m_shelf;
    ChooseView m_view;
    OptionList* m_options;
    QLabel* m_details;
    QLineEdit* m_plate;
    QLabel* m_echo;
    QPushButton* m_take;
    QPushButton* m_into;
    bool m_two = false; ///< also two units together
    Background m_matching;
};

} // namespace offshoot::ui
