// One open job between the store and the views: edits with undo, log entries, selection, the evaluation.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/evaluate/log_line.h"
#include "store/job_store.h"
#include "ui/rectifier_run.h"

#include <QObject>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <optional>

namespace offshoot::ui {

class JobSession : public QObject
{
    Q_OBJECT

public:
    /// `now_s` gives the time in seconds since 1970; tests and the screenshots bring their own.
    JobSession(JobStore store, std::function<double()> now_s, QObject* parent = nullptr);

    /// As it is shown; of a batch with the log of the unit at hand.
    const Job& job() const { return m_preview ? *m_preview : edited(); }
    /// Without what is only looked at.
    const Job& edited() const { return m_one ? *m_one : m_job; }
    /// With the log of every unit of its batch.
    const Job& whole() const { return m_job; }
    /// The unit of the batch that is at hand, from 1: what is logged and ticked is of it.
    std::size_t unit() const { return m_unit; }
    void takeUnit(std::size_t unit);
    bool previewing() const { return m_preview.has_value(); }
    const Evaluation& evaluation() const { return m_now.evaluation; }
    const JobStore& store() const { return m_store; }
    /// The simulation of the job's rectifier chain as it is; nothing while none has come in.
    const ChainRun* chainRun() const;
    bool simulating() const { return m_work.running(); }
    /// Why there is no simulation of the chain as it is.
    const QString& chainProblem() const { return m_chainProblem; }
    void stopSimulation();
    QUndoStack& undoStack() { return m_undo; }
    bool unsaved() const { return m_unsaved; }
    double now() const { return m_nowS(); }

    /// Changes the editable part of the job, undoably. Edits with the same merge key in a row are one step.
    void edit(const QString& what, const std::function<void(Job&)>& change, int mergeKey = -1);
    /// Shows the job as it would be; nothing until the next edit or clearPreview().
    void preview(const std::function<void(Job&)>& change);
    void clearPreview();

    // Log entries: on disk before they show. False (and problem() is emitted) when that failed.
    bool log(LogEntry entry);
    bool declareOff(const QString& source);
    bool declareLive();
    bool meterProven();
    /// Ticks a step; refused with the reason when the step or the isolation state does not allow it.
    bool tick(const std::string& step, const std::vector<bool>& checks = {});
    bool signOff();

    /// A station, of the rail of that place in the supply's list where the station belongs to a rail.
    void select(Station station, std::size_t rail = 0);
    /// Likewise, and said even of the one that is selected: somebody pointed at it to see it.
    void point(Station station, std::size_t rail = 0);
    Station selected() const { return m_selected; }
    /// The place of the selected rail, and the rail; the first where that one is gone.
    std::size_t selectedRailAt() const { return m_rail < job().found.rails.size() ? m_rail : 0; }
    const Rail& selectedRail() const { return job().found.rails[selectedRailAt()]; }
    const std::string& lastPoint() const { return m_lastPoint; }

    bool save();
    bool saveAs(const QString& path);

    /// Replays what an undo command holds; edits of one number are the same.
    void restore(const Job& edits, int number);

Q_SIGNALS:
    void changed();
    void selectionChanged();
    void simulated(double share);
    /// Something the person asked for could not be done; the text says why and what to do.
    void problem(const QString& text);

private:
    /// All that an evaluation is made of, but for the time: edits by their number, the log by how far it
    /// goes.
    struct Of
    {
        int edits;
        std::size_t logged;
        std::size_t unit;
        int runs;
        bool operator==(const Of&) const = default;
    };
    struct Known
    {
        Of of;
        double now_s;
        Evaluation evaluation;
    };

    void opened();
    void refresh();
    void simulate();
    bool knew(const Of& of, double now_s);
    void applyEdits(Job next);
    void view();
    bool append(LogEntry entry);
    void autoTick(Does what);
    void noteModel();

    JobStore m_store;
    std::function<double()> m_nowS;
    Job m_job;
    std::optional<Job> m_one; ///< of a batch: the unit at hand
    std::size_t m_unit = 1;
    std::optional<Job> m_preview;
    static constexpr int none = -1;
    int m_numbers = 0;      ///< given to edits so far
    int m_number = 0;       ///< of those in m_job
    int m_previewed = none; ///< of those in m_preview, or of what was only looked at last
    Known m_now{};
    std::optional<Known> m_before; ///< another that may be asked for again
    RectifierRun m_work;
    std::optional<RectifierInput> m_simulated; ///< what the latest run was started for
    std::optional<ChainRun> m_chain;           ///< the latest that came in
    int m_runs = 0;                            ///< that came in
    QString m_chainProblem;
    QUndoStack m_undo;
    QTimer m_clock;
    Station m_selected = Station::Feedback;
    std::size_t m_rail = 0;
    std::string m_lastPoint;
    bool m_unsaved = false;
};

} // namespace offshoot::ui
