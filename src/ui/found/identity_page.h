// What is it? A guess by its outline, then one look at a time, the one that tells most; which kinds are left
// and what speaks against the others.
#pragma once

#include "core/evaluate/identity_view.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <vector>

class QGridLayout;
class QHBoxLayout;
class QLabel;
class QPushButton;

namespace offshoot::ui {

class PictureButton;

class IdentityPage : public QWidget
{
    Q_OBJECT

public:
    IdentityPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* silhouettes();
    QWidget* question();
    QWidget* seen();
    void answer(int card);
    void pass();
    void sayIt();
    void refresh();
    void showQuestion();

    JobSession& m_session;
    Look& m_look;
    IdentityView m_view;
    std::vector<KindClue> m_passed; ///< which nobody could tell
    std::vector<PictureButton*> m_outlines;
    std::vector<PictureButton*> m_cards;
    QLabel* m_sentence;
    QLabel* m_outline;
    QLabel* m_question;
    QLabel* m_help;
    QLabel* m_kinds;
    QPushButton* m_pass;
    QPushButton* m_say;
};

} // namespace offshoot::ui
