// Windings: the primaries drawn with their dots, taps and lead names, the links of the connection looked at,
// what each secondary gives then; every valid connection to choose from.
#pragma once

#include "ui/plan/workspace_page.h"
#include "ui/windings/primaries_picture.h"

class QAbstractButton;
class QLabel;
class QStackedWidget;

namespace offshoot::ui {

class WindingsPage : public WorkspacePage
{
    Q_OBJECT

public:
    WindingsPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* side();
    QWidget* entry();
    void refresh() override;
    QString proofHtml() const;
    void paintConnection(QPainter& painter, const QRectF& box, int row) const;
    QString connectionText(int row) const;

    WindingsView m_view;
    PrimariesPicture* m_picture;
    OptionList* m_connections;
    QAbstractButton* m_asFound = nullptr; ///< its tab: what there is to do as long as nothing was entered
    QStackedWidget* m_stack;
    QLabel* m_proof;
};

} // namespace offshoot::ui
