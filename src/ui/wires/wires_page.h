// Wires: which of the old wires goes to which new terminal, dealt out by what was measured or pulled by hand;
// the wiring card.
#pragma once

#include "ui/plan/workspace_page.h"
#include "ui/wires/wires_picture.h"

class QLabel;
class QPushButton;

namespace offshoot::ui {

class WiresPage : public WorkspacePage
{
    Q_OBJECT

public:
    WiresPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    bool exportCard(const QString& path);

private:
    void refresh() override;
    QWidget* tools();
    /// Whether the terminal takes the wire; says why where it does not.
    bool pull(std::size_t wire, std::size_t terminal, bool tell);
    void walk(std::size_t wire, int by);
    void makeMissing();
    void say(const QString& text);

    WiringView m_view;
    WiresPicture* m_picture;
    QLabel* m_said;
    QPushButton* m_missing;
    QPushButton* m_dropNew;
    QPushButton* m_card;
};

} // namespace offshoot::ui
