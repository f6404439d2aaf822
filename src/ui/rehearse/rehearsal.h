// A job rehearsed on its simulated unit, in a window that nobody can mistake for the job's own: another
// ground, another head, the word in its title. It works on a copy: nothing of it enters the job or its log.
#pragma once

#include "core/rehearse/exercises.h"
#include "core/rehearse/suspects.h"
#include "ui/background.h"
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
class TracePicture;

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
    /// The file that keeps which exercises were done; until then none are kept.
    static void setPlace(const QString& file);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void buildHead();
    void buildSide();
    void buildKeys();
    /// Of the unit in hand.
    const Bench& bench() const { return m_rehearsed->benches().unit(m_number); }
    void playInHand(const QString& move);
    void take(std::size_t unit);
    void onKey(Qt::Key key, std::function<void()> run);
    QPushButton* key(const QString& text, Qt::Key key, const std::function<void()>& run);
    void choose(int entry);
    void offerGuesses(bool hidden);
    std::optional<UnitFault> guess() const;
    void refresh();
    void showExercise();
    void markDone();
    void showStep();
    void showMoves();
    void showCapture();
    /// Writes what the oscilloscope saw last; asks for the place.
    void saveCapture();

    const Job m_own;
    Job m_job;
    const Exercise* m_exercise = nullptr; ///< null: the job itself
    const Look& m_look;
    std::unique_ptr<RehearsedJob> m_rehearsed;
    std::size_t m_number = 1; ///< the unit in hand
    QWidget* m_head;
    QWidget* m_bench;
    QWidget* m_side;
    BenchPicture* m_picture;
    QSpinBox* m_seed;
    QComboBox* m_fault;
    QComboBox* m_guess;
    QComboBox* m_choice;
    QLabel* m_says;
    QLabel* m_title;
    QLabel* m_state;
    QLabel* m_step;
    QLabel* m_detail;
    QLabel* m_wrong;
    QLabel* m_problem;
    QWidget* m_scope; ///< what the oscilloscope saw, while it is the latest move
    TracePicture* m_trace;
    QListWidget* m_moves;
    QTextBrowser* m_end;
    QPushButton* m_carry_out;
    QWidget* m_keys;
    QPushButton* m_next_unit; ///< where there are several
    QPushButton* m_join;      ///< where the plan joins them
    QLineEdit* m_line;
    bool m_ended = false;
    std::vector<Suspect> m_likely; ///< once it has ended and they are worked out
    Background m_suspecting;
};

} // namespace offshoot::ui
