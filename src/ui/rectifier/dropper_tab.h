// The dropping resistor for a wanted voltage: sought by simulation, then made of parts from the drawer.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "ui/look.h"
#include "ui/rectifier_run.h"
#include "ui/session.h"

#include <QWidget>

class QLabel;
class QLineEdit;

namespace offshoot::ui {

class OptionList;

class DropperTab : public QWidget
{
    Q_OBJECT

public:
    DropperTab(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// `section` is the part chosen in the strip; the first resistor of the chain where that is none.
    void follow(std::optional<std::size_t> section);
    OptionList& options() { return *m_options; }
    void apply(Job& job, int row) const;

private:
    void seek();
    void arrived(const DropperResult& result);
    void paintChoice(QPainter& painter, const QRectF& box, int row) const;
    QString choiceText(int row) const;

    JobSession& m_session;
    Look& m_look;
    QLineEdit* m_volts;
    QLabel* m_answer;
    OptionList* m_options;
    RectifierRun m_run;
    std::optional<std::size_t> m_place;
    std::optional<DropperInput> m_sought; ///< its chain without the resistor's own value
    std::vector<DropperChoice> m_choices;
};

} // namespace offshoot::ui
