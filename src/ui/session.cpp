#include "ui/session.h"

#include "core/evaluate/batch_board.h"
#include "core/supply/power_path.h"
#include "ui/look.h"
#include "ui/photos.h"

#include <algorithm>
#include <utility>

namespace offshoot::ui {

namespace {

/// The editable part of a job, and its number; the log is never part of it.
struct Edits
{
    Job job;
    int number;
};

/// The edits before and after.
class EditCommand : public QUndoCommand
{
public:
    EditCommand(JobSession& session, const QString& what, Edits before, Edits after, int mergeKey)
        : QUndoCommand(what)
        , m_session(session)
        , m_before(std::move(before))
        , m_after(std::move(after))
        , m_mergeKey(mergeKey)
    {
        m_before.job.log.clear();
        m_after.job.log.clear();
    }
    void undo() override { m_session.restore(m_before.job, m_before.number); }
    void redo() override { m_session.restore(m_after.job, m_after.number); }
    int id() const override { return m_mergeKey; }
    bool mergeWith(const QUndoCommand* other) override
    {
        m_after = static_cast<const EditCommand*>(other)->m_after;
        if (sameEdits(m_before.job, m_after.job))
            setObsolete(true);
        return true;
    }

private:
    JobSession& m_session;
    Edits m_before;
    Edits m_after;
    int m_mergeKey;
};

} // namespace

JobSession::JobSession(JobStore store, std::function<double()> now_s, QObject* parent)
    : QObject(parent)
    , m_store(std::move(store))
    , m_nowS(std::move(now_s))
    , m_job(m_store.loaded())
{
    connect(&m_work, &RectifierRun::done, this, [this](const ChainRun& run) {
        m_chain = run;
        ++m_runs;
        refresh();
    });
    connect(&m_work, &RectifierRun::failed, this, [this](const QString& message) {
        m_chainProblem = tr("Not simulated: %1.").arg(message);
        refresh();
    });
    connect(&m_work, &RectifierRun::progress, this, &JobSession::simulated);
    view();
    opened();
    m_unsaved = m_store.recovered();
    refresh();
    constexpr int secondMs = 1000;
    m_clock.setInterval(secondMs);
    connect(&m_clock, &QTimer::timeout, this, [this] {
        if (m_now.evaluation.isolation.state != Isolation::Live)
            refresh();
    });
    m_clock.start();
}

/// A job that is opened counts as live until the person declares otherwise.
void JobSession::opened()
{
    if (m_store.readOnly()) {
        // Nothing is written, and it is live all the same.
        m_job.log.push_back({.id = nextLogId(m_job), .time_s = m_nowS(), .kind = LogKind::Opened});
        return;
    }
    if (!m_job.log.empty())
        append({.id = "", .time_s = 0, .kind = LogKind::Opened});
    noteModel();
    m_unsaved = false;
    if (nothingKnown(m_job.found))
        m_selected = Station::Inlet; // of what is inside nobody knows whether it is there
}

/// What of the log is shown: that of the unit at hand.
void JobSession::view()
{
    const std::size_t units = batchUnits(m_job);
    m_unit = std::min(m_unit, units);
    m_one = units > 1 ? std::optional(unitOfBatch(m_job, m_unit)) : std::nullopt;
}

void JobSession::takeUnit(std::size_t unit)
{
    m_preview.reset();
    m_unit = std::clamp<std::size_t>(unit, 1, batchUnits(m_job));
    m_lastPoint.clear();
    view();
    if (!m_store.readOnly())
        noteModel();
    refresh();
}

void JobSession::refresh()
{
    simulate();
    const Of of{m_preview ? m_previewed : m_number, m_job.log.size(), m_unit, m_runs};
    const double now_s = m_nowS();
    if (!knew(of, now_s)) {
        Known next{of, now_s, evaluate(job(), now_s, chainRun())};
        if (m_now.of.edits != m_previewed)
            m_before = std::move(m_now);
        m_now = std::move(next);
    }
    Q_EMIT changed();
}

/// Whether this was evaluated: an option that was looked at and left, and an edit that is taken back, give
/// what there was before.
bool JobSession::knew(const Of& of, double now_s)
{
    const auto holds = [&](const Known& known) {
        // Only the countdown of the isolation state depends on the time.
        return known.of == of &&
               (known.now_s == now_s || known.evaluation.isolation.state == Isolation::Live);
    };
    if (m_before && holds(*m_before))
        std::swap(m_now, *m_before);
    return holds(m_now);
}

/// Another chain than the one simulated last starts a run; its result refreshes again. One that is back as it
/// was has its run.
void JobSession::simulate()
{
    auto input = chainInput(job());
    if (input == m_simulated)
        return;
    m_simulated = std::move(input);
    m_chainProblem.clear();
    if (m_simulated && chainRun() == nullptr)
        m_work.start(*m_simulated);
    else
        m_work.cancel();
}

const ChainRun* JobSession::chainRun() const { return m_chain ? runOf(job(), &*m_chain) : nullptr; }

void JobSession::stopSimulation()
{
    if (!m_work.running())
        return;
    m_work.cancel();
    m_chainProblem = tr("Stopped. Change the chain to simulate again.");
    refresh();
}

void JobSession::edit(const QString& what, const std::function<void(Job&)>& change, int mergeKey)
{
    const std::optional<Job> looked = std::exchange(m_preview, std::nullopt);
    const int lookedAt = std::exchange(m_previewed, none);
    Job next = m_job;
    change(next);
    if (sameEdits(next, m_job))
        return refresh();
    if (m_store.readOnly()) {
        Q_EMIT problem(tr("This job is open in another window: here it can only be read."));
        return refresh();
    }
    // What was looked at and is taken is not evaluated again.
    const int number = looked && sameEdits(next, *looked) ? lookedAt : ++m_numbers;
    m_undo.push(new EditCommand(*this, what, {m_job, m_number}, {std::move(next), number}, mergeKey));
}

void JobSession::restore(const Job& edits, int number)
{
    m_number = number;
    Job next = edits;
    next.log = m_job.log;
    next.revision = m_job.revision + 1;
    applyEdits(std::move(next));
}

void JobSession::applyEdits(Job next)
{
    m_preview.reset();
    m_job = std::move(next);
    view();
    m_unsaved = true;
    try {
        m_store.noteEdits(m_job);
    } catch (const StoreError& error) {
        Q_EMIT problem(QString::fromUtf8(error.what()));
    }
    noteModel();
    refresh();
}

/// Sources and reservoirs that appear or go are log entries: the isolation state depends on them.
void JobSession::noteModel()
{
    const EnergyModel model = energyModel(edited());
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Model};
    entry.sources = model.sources;
    for (const Reservoir& reservoir : model.reservoirs)
        entry.reservoirs.push_back(reservoir.key());
    const std::vector<LogEntry>& log = edited().log;
    const auto last =
        std::find_if(log.rbegin(), log.rend(), [](const LogEntry& e) { return e.kind == LogKind::Model; });
    if (last == log.rend() || last->sources != entry.sources || last->reservoirs != entry.reservoirs)
        append(std::move(entry));
}

void JobSession::preview(const std::function<void(Job&)>& change)
{
    Job next = edited();
    change(next);
    m_preview = std::move(next);
    m_previewed = ++m_numbers;
    refresh();
}

void JobSession::clearPreview()
{
    if (!m_preview)
        return;
    m_preview.reset();
    refresh();
}

bool JobSession::append(LogEntry entry)
{
    entry.id = nextLogId(m_job);
    entry.time_s = m_nowS();
    if (entry.unit == "1")
        entry.unit.reset(); // said of the first, whichever is in hand
    else if (!entry.unit && entry.kind != LogKind::Opened)
        entry.unit = unitTag(m_unit);
    try {
        m_store.append(entry);
    } catch (const StoreError& error) {
        Q_EMIT problem(QString::fromUtf8(error.what()));
        return false;
    }
    m_job.log.push_back(std::move(entry));
    view();
    m_unsaved = true;
    return true;
}

bool JobSession::log(LogEntry entry)
{
    clearPreview();
    entry.isolation = m_now.evaluation.isolation.state;
    if (entry.kind == LogKind::Reading) {
        entry.stage = stageOf(entry, m_now.evaluation);
        m_lastPoint = *entry.point;
    }
    if (entry.kind == LogKind::Photo && entry.text) {
        const KeptPhoto kept = keepPhoto(m_store.path(), qs(*entry.text));
        entry.text = kept.name.toStdString();
        if (!kept.problem.isEmpty())
            Q_EMIT problem(kept.problem);
    }
    const LogKind kind = entry.kind;
    const std::optional<std::string> step = entry.step;
    if (!append(std::move(entry)))
        return false;
    if (kind == LogKind::Live)
        noteModel();
    refresh();
    if (kind == LogKind::SourceOff && m_now.evaluation.isolation.state != Isolation::Live)
        autoTick(Does::Isolate);
    if (m_now.evaluation.isolation.state == Isolation::ProvenDead && kind == LogKind::MeterProven) {
        autoTick(Does::Discharge); // what reads dead is discharged
        autoTick(Does::Prove);
    }
    // A reading that answers everything its step asks ticks the step.
    for (const StepView& view : m_now.evaluation.steps)
        if (step && view.step.id == *step && view.status != StepStatus::Done && view.refusal.empty() &&
            !view.step.is(Does::Prove)) {
            tick(view.step.id);
            break;
        }
    return true;
}

void JobSession::autoTick(Does what)
{
    if (const StepView* open = openStep(m_now.evaluation, what); open != nullptr && open->refusal.empty())
        tick(open->step.id);
}

bool JobSession::declareOff(const QString& source)
{
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::SourceOff};
    entry.text = source.toStdString();
    return log(std::move(entry));
}

bool JobSession::declareLive() { return log({.id = "", .time_s = 0, .kind = LogKind::Live}); }

bool JobSession::meterProven() { return log({.id = "", .time_s = 0, .kind = LogKind::MeterProven}); }

bool JobSession::tick(const std::string& id, const std::vector<bool>& checks)
{
    const auto view = std::find_if(m_now.evaluation.steps.begin(), m_now.evaluation.steps.end(),
                                   [&](const StepView& v) { return v.step.id == id; });
    if (view == m_now.evaluation.steps.end())
        return false;
    const bool everyCheck =
        view->step.checks.empty() || (checks.size() == view->step.checks.size() &&
                                      std::find(checks.begin(), checks.end(), false) == checks.end());
    if (!view->refusal.empty() || !everyCheck) {
        Q_EMIT problem(view->refusal.empty() ? tr("Tick every pre-power check first.") : qs(view->refusal));
        return false;
    }
    if (view->step.kind == StepKind::Power && !m_job.batch.live_together)
        if (const auto live = otherUnitsLive(m_job, m_unit, m_nowS()); !live.empty()) {
            Q_EMIT problem(tr("Unit %1 of the batch is live: one at a time, unless the board says otherwise.")
                               .arg(live.front()));
            return false;
        }
    LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Tick};
    entry.step = id;
    entry.text = view->step.fingerprint();
    entry.isolation = m_now.evaluation.isolation.state;
    const bool power = view->step.kind == StepKind::Power;
    if (!append(std::move(entry)) || (power && !append({.id = "", .time_s = 0, .kind = LogKind::Live})))
        return false;
    noteModel(); // power after a change: its reservoirs are now those of the plan
    refresh();
    return true;
}

bool JobSession::signOff()
{
    if (!m_now.evaluation.blocks.empty()) {
        Q_EMIT problem(qs(m_now.evaluation.blocks.front()));
        return false;
    }
    return log({.id = "", .time_s = 0, .kind = LogKind::SignedOff});
}

void JobSession::select(Station station, std::size_t rail)
{
    if (m_selected != station || m_rail != rail)
        point(station, rail);
}

void JobSession::point(Station station, std::size_t rail)
{
    m_selected = station;
    m_rail = rail;
    Q_EMIT selectionChanged();
}

bool JobSession::save()
{
    try {
        m_store.save(m_job);
        m_unsaved = false;
        refresh();
        return true;
    } catch (const StoreError& error) {
        Q_EMIT problem(QString::fromUtf8(error.what()));
        return false;
    }
}

bool JobSession::saveAs(const QString& path)
{
    try {
        m_store.saveAs(m_job, path);
        m_unsaved = false;
        refresh();
        return true;
    } catch (const StoreError& error) {
        Q_EMIT problem(QString::fromUtf8(error.what()));
        return false;
    }
}

} // namespace offshoot::ui
