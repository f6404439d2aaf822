// A job rehearsed on its simulated unit, in a window that nobody can mistake for the job's own: another
// ground, another head, the word in its title. It works on a copy: nothing of it enters the job or its log.
#pragma once

#include "core/rehearse/procedure_play.h"
#include "ui/look.h"

#include <QDialog>
#include <functional>
#include <memory>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QSpinBox;
class QTextBrowser;

namespace offshoot::ui {

class BenchPicture;

class Rehearsal : public QDialog
{
    Q_OBJECT

public:
    Rehearsal(const Job& job, int seed, const Look& look, QWidget* parent = nullptr);
    const RehearsedJob& rehearsed() const { return *m_rehearsed; }
    /// Another unit of the same job: its true values by the seed, with the fault chosen.
    void begin();
    /// The next step as it says.
    void carryOut();
    /// One move as it is typed; false, with the reason beside the line, where there is none such.
    bool play(const QString& move);
    void end();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void buildHead();
    void buildSide();
    QWidget* buildKeys();
    void onKey(Qt::Key key, std::function<void()> run);
    void key(const QString& text, Qt::Key key, const std::function<void()>& run);
    void refresh();
    void showStep();
    void showMoves();
    double lightOhm() const;

    Job m_job;
    const Look& m_look;
    std::unique_ptr<RehearsedJob> m_rehearsed;
    QWidget* m_head;
    QWidget* m_bench;
    QWidget* m_side;
    BenchPicture* m_picture;
    QSpinBox* m_seed;
    QComboBox* m_fault;
    QLabel* m_title;
    QLabel* m_state;
    QLabel* m_step;
    QLabel* m_detail;
    QLabel* m_wrong;
    QLabel* m_problem;
    QListWidget* m_moves;
    QTextBrowser* m_end;
    QPushButton* m_carry_out;
    QWidget* m_keys;
    QLineEdit* m_line;
    bool m_ended = false;
};

} // namespace offshoot::ui
