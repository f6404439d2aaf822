#include "ui/rehearse/rehearsal.h"

#include "core/rehearse/rehearsal_end.h"
#include "store/job_store.h"
#include "ui/captures/capture_picture.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/procedure/diagnosis_html.h"
#include "ui/rehearse/bench_picture.h"
#include "ui/shipped.h"

#include <QAction>
#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString& keptIn()
{
    static QString file;
    return file;
}

bool wasDone(const Exercise& exercise)
{
    return !keptIn().isEmpty() && QSettings(keptIn(), QSettings::IniFormat).value(qs(exercise.id)).toBool();
}

QIcon mark(Verdict verdict, const Look& look)
{
    const int size = look.px(16);
    QPixmap picture(size, size);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    paintVerdict(painter, verdict, QPointF(size / 2.0, size / 2.0), size * 0.7, look.colours());
    return QIcon(picture);
}

/// What happened at a move, in one line.
QString lineOf(const PlayedMove& move)
{
    const BenchAnswer& answer = move.answer;
    QString text = qs(moveText(answer.move));
    const bool drained = answer.move.kind == MoveKind::Discharge;
    if (answer.reading && drained) {
        text += u": "_s + qs(readingText(*answer.reading));
    } else if (answer.reading) {
        text = u"%1 %2"_s.arg(qs(pointText(answer)), qs(readingText(*answer.reading)));
        if (move.window && (move.window->min || move.window->max))
            text += Rehearsal::tr(", wanted %1").arg(qs(windowText(*move.window, answer.reading->quantity)));
        if (move.verdict().value_or(Verdict::Fits) != Verdict::Fits && !move.because.empty())
            text += u" ("_s + qs(move.because) + u')';
    } else if (answer.wrong) {
        text = qs(phrase(answer.wrong->what));
    }
    return text;
}

QString listOf(const std::vector<std::string>& lines, QLatin1StringView tag = "ul"_L1)
{
    QString html;
    for (const std::string& line : lines)
        html += u"<li>"_s + qs(line).toHtmlEscaped() + u"</li>"_s;
    return u"<%1>%2</%1>"_s.arg(tag, html);
}

} // namespace

Rehearsal::Rehearsal(const Job& job, int seed, const Look& look, QWidget* parent)
    : QDialog(parent)
    , m_own(job)
    , m_job(job)
    , m_look(look)
    , m_head(new QWidget)
    , m_bench(new QWidget)
    , m_side(new QWidget)
    , m_picture(new BenchPicture(look))
    , m_seed(new QSpinBox)
    , m_fault(new QComboBox)
    , m_guess(new QComboBox)
    , m_choice(new QComboBox)
    , m_says(new Paragraph)
    , m_title(new Paragraph)
    , m_state(new QLabel)
    , m_step(new Paragraph)
    , m_detail(new Paragraph)
    , m_wrong(new Paragraph)
    , m_problem(new QLabel)
    , m_scope(new QWidget)
    , m_trace(new TracePicture(look))
    , m_moves(new QListWidget)
    , m_end(new QTextBrowser)
    , m_carry_out(new QPushButton)
    , m_keys(new QWidget)
    , m_next_unit(nullptr)
    , m_join(nullptr)
    , m_line(new QLineEdit)
{
    setWindowTitle(tr("Rehearsal · %1").arg(qs(job.title)));
    setObjectName(u"rehearsal"_s);
    resize(look.px(1250), look.px(770));
    m_seed->setRange(0, 999999);
    m_seed->setValue(seed);
    m_seed->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* bench = new QVBoxLayout(m_bench);
    bench->addWidget(m_picture, 1);
    auto* scope = new QHBoxLayout(m_scope);
    scope->setContentsMargins(0, 0, 0, 0);
    sizedWith(*m_trace, look, [this, &look] { m_trace->setFixedHeight(look.px(140)); });
    scope->addWidget(m_trace, 1);
    auto* save = new QPushButton(tr("Save the file…"));
    save->setAutoDefault(false);
    connect(save, &QPushButton::clicked, this, &Rehearsal::saveCapture);
    scope->addWidget(save, 0, Qt::AlignTop);
    bench->addWidget(m_scope);
    buildKeys();
    bench->addWidget(m_keys);
    bench->addWidget(m_wrong);
    sizedWith(*m_wrong, look, [this, &look] { m_wrong->setMinimumHeight(look.px(40)); });
    m_wrong->setAccessibleName(tr("What a wrong move would have done"));
    bench->addWidget(m_line);
    bench->addWidget(m_problem);
    m_line->setAccessibleName(tr("Move"));
    m_line->setPlaceholderText(
        tr("plug_in · probe bulk · load 22R · discharge 4k7 · ohms bottom · wait 60 …"));
    connect(m_line, &QLineEdit::returnPressed, this, [this] {
        if (play(m_line->text()))
            m_line->clear();
    });
    connect(m_picture, &BenchPicture::wanted, this, &Rehearsal::play);
    connect(m_picture, &BenchPicture::taken, this, &Rehearsal::take);
    connect(&look, &Look::changed, this, [this] {
        markDone();
        refresh();
        update();
    });
    auto* row = new QHBoxLayout;
    row->addWidget(m_bench, 5);
    buildSide();
    row->addWidget(m_side, 3);
    const int margin = look.px(12);
    row->setContentsMargins(margin, margin, margin, margin);
    row->setSpacing(margin);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    buildHead();
    column->addWidget(m_head);
    column->addLayout(row, 1);
    begin();
}

void Rehearsal::buildHead()
{
    auto* row = new QHBoxLayout(m_head);
    m_title->setTextFormat(Qt::RichText);
    m_title->setToolTip(tr("Nothing of it enters the job's log."));
    m_state->setAccessibleName(tr("State of the simulated unit"));
    m_state->setIndent(0);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    column->addWidget(m_title);
    column->addWidget(m_state, 0, Qt::AlignLeft);
    row->addLayout(column, 1);
    m_title->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // the last to be whole
    m_choice->setAccessibleName(tr("Exercise"));
    m_choice->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    constexpr int letters = 20;
    m_choice->setMinimumContentsLength(letters);
    m_choice->addItem(tr("this job"));
    for (const Exercise& exercise : exercises())
        m_choice->addItem(qs(exercise.title));
    markDone();
    connect(m_choice, &QComboBox::activated, this, &Rehearsal::choose);
    row->addWidget(m_choice);
    auto* seed = new QLabel(tr("draw"));
    seed->setBuddy(m_seed);
    row->addWidget(seed);
    m_seed->setAccessibleName(tr("Which unit is drawn"));
    row->addWidget(m_seed);
    m_fault->setAccessibleName(tr("Fault"));
    m_fault->addItem(tr("a sound unit"), u"none"_s);
    m_fault->addItem(tr("a hidden fault"), u"any"_s);
    row->addWidget(m_fault);
    auto* anew = new QPushButton(tr("Begin anew"));
    anew->setAutoDefault(false);
    connect(anew, &QPushButton::clicked, this, &Rehearsal::begin);
    row->addWidget(anew);
    const QString on_head =
        u"color: %1; background: transparent"_s.arg(m_look.colours().rehearsalText.name());
    for (QWidget* each :
         {static_cast<QWidget*>(m_title), static_cast<QWidget*>(seed), static_cast<QWidget*>(anew)})
        each->setStyleSheet(on_head);
}

void Rehearsal::buildSide()
{
    auto* column = new QVBoxLayout(m_side);
    m_says->setAccessibleName(tr("What the exercise asks"));
    column->addWidget(m_says);
    m_step->setFont(m_look.title());
    m_step->setAccessibleName(tr("Step"));
    column->addWidget(m_step);
    m_detail->setTextFormat(Qt::RichText);
    column->addWidget(m_detail);
    m_carry_out->setText(tr("Carry out this step (Space)"));
    m_carry_out->setAutoDefault(false);
    connect(m_carry_out, &QPushButton::clicked, this, &Rehearsal::carryOut);
    column->addWidget(m_carry_out);
    m_guess->setAccessibleName(tr("Which fault is it?"));
    m_guess->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(m_guess, &QComboBox::activated, this, [this] { refresh(); });
    column->addWidget(m_guess);
    auto* end = new QPushButton(tr("End: what it would have cost (E)"));
    end->setAutoDefault(false);
    connect(end, &QPushButton::clicked, this, &Rehearsal::end);
    column->addWidget(end);
    m_moves->setAccessibleName(tr("So far"));
    m_moves->setWordWrap(true);
    column->addWidget(m_moves, 1);
    m_end->setAccessibleName(tr("The end of the rehearsal"));
    column->addWidget(m_end, 1);
}

/// The moves that have a key, beside the bench.
void Rehearsal::buildKeys()
{
    auto* row = new FlowRow(m_keys, m_look.px(4));
    row->setContentsMargins(0, 0, 0, 0);
    const auto toggles = [this](bool (*now)(const Bench&), const char* off, const char* on) {
        return [this, now, off, on] { playInHand(QString::fromLatin1(now(bench()) ? off : on)); };
    };
    const auto plays = [this](const char* move) {
        return [this, move] { playInHand(QString::fromLatin1(move)); };
    };
    key(tr("Plug &P"), Qt::Key_P, toggles([](const Bench& b) { return b.live(); }, "unplug", "plug_in"));
    key(tr("Lamp &L"), Qt::Key_L,
        toggles([](const Bench& b) { return b.limiterIn(); }, "lamp_out", "lamp_in"));
    key(tr("Lid &C"), Qt::Key_C,
        toggles([](const Bench& b) { return b.caseOpen(); }, "close_case", "open_case"));
    key(tr("Load &O"), Qt::Key_O, [this] {
        const Bench& at = m_rehearsed->benches().joined() ? m_rehearsed->bench() : bench();
        playInHand(at.loadSiemens() > 0 ? u"load none"_s : u"load "_s + qs(plainNumber(at.lightLoadOhm())));
    });
    key(tr("Drain &D"), Qt::Key_D, plays("discharge 4k7"));
    key(tr("Earth &G"), Qt::Key_G, plays("ohms earth"));
    key(tr("Fit &F"), Qt::Key_F, plays("fit"));
    key(tr("Scope &S"), Qt::Key_S, plays("capture ripple"));
    key(tr("Wait &W"), Qt::Key_W, plays("wait 60"));
    m_next_unit =
        key(tr("Next unit &U"), Qt::Key_U, [this] { take(m_number % m_rehearsed->benches().count() + 1); });
    m_join = key(tr("Join &J"), Qt::Key_J, [this] { play(u"join"_s); });
    // Not beside the bench: they lead through the procedure.
    onKey(Qt::Key_Space, [this] { carryOut(); });
    onKey(Qt::Key_E, [this] { end(); });
}

void Rehearsal::onKey(Qt::Key key, std::function<void()> run)
{
    auto* action = new QAction(this);
    action->setShortcut(key);
    connect(action, &QAction::triggered, this, [run = std::move(run)] { run(); });
    addAction(action);
}

/// A button with its key; the key alone does it at once, without the button's being seen to go down.
QPushButton* Rehearsal::key(const QString& text, Qt::Key key, const std::function<void()>& run)
{
    auto* button = new QPushButton(text);
    button->setAutoDefault(false);
    connect(button, &QPushButton::clicked, this, [run] { run(); });
    m_keys->layout()->addWidget(button);
    onKey(key, run);
    return button;
}

void Rehearsal::playInHand(const QString& move)
{
    play(m_number > 1 ? u"%1 #%2"_s.arg(move).arg(m_number) : move);
}

void Rehearsal::take(std::size_t unit)
{
    m_number = unit;
    refresh();
}

void Rehearsal::setPlace(const QString& file) { keptIn() = file; }

/// The job itself, or one of the exercises with the demo job that it is done at.
void Rehearsal::choose(int entry)
{
    m_exercise = entry <= 0 ? nullptr : &exercises()[static_cast<std::size_t>(entry - 1)];
    m_job = m_own;
    if (m_exercise != nullptr) {
        QFile file(shippedFolder(u"jobs"_s) + u'/' + qs(m_exercise->job) + u".offshoot"_s);
        if (!file.open(QIODevice::ReadOnly)) {
            m_problem->setText(tr("%1 cannot be read.").arg(file.fileName()));
            m_exercise = nullptr;
            m_choice->setCurrentIndex(0);
            return;
        }
        m_job = exerciseJob(*m_exercise, readJob(file.readAll().toStdString()));
    }
    begin();
}

void Rehearsal::begin()
{
    const auto seed = static_cast<std::uint64_t>(m_seed->value());
    const std::string wanted = m_fault->currentData().toString().toStdString();
    const UnitFault fault = m_exercise != nullptr ? faultOf(*m_exercise, m_job, seed)
                                                  : unitFaultFrom(wanted, m_job, Draw(seed), {});
    auto made = std::make_unique<RehearsedJob>(m_job, seed, fault);
    m_number = 1;
    m_picture->show(*made); // before the one goes that it shows
    m_rehearsed = std::move(made);
    m_next_unit->setVisible(m_rehearsed->benches().count() > 1);
    m_join->setVisible(m_rehearsed->benches().count() > 1 && m_job.plan.join);
    m_ended = false;
    m_likely.clear();
    m_suspecting.cancel();
    m_title->setText(u"<b>%1</b> · %2"_s.arg(tr("Rehearsal · %1").arg(qs(m_job.title)).toHtmlEscaped(),
                                             tr("nothing here is real")));
    m_fault->setVisible(m_exercise == nullptr);
    offerGuesses(m_exercise != nullptr
                     ? m_exercise->goal == Goal::NameFault || m_exercise->goal == Goal::WholeJob
                     : wanted != "none");
    m_wrong->clear();
    m_problem->clear();
    refresh();
    m_picture->setFocus();
}

void Rehearsal::offerGuesses(bool hidden)
{
    m_guess->clear();
    m_guess->addItem(tr("Which fault is it?"));
    for (const UnitFault& fault : possibleFaults(m_job))
        m_guess->addItem(qs(faultSentence(fault)), qs(fault.text()));
    m_guess->setVisible(hidden);
}

std::optional<UnitFault> Rehearsal::guess() const
{
    if (m_guess->currentIndex() <= 0)
        return std::nullopt;
    return unitFaultFrom(m_guess->currentData().toString().toStdString(), m_job, Draw(0), {});
}

/// What is asked, and what is missing; done once, it stays marked.
void Rehearsal::showExercise()
{
    m_says->setVisible(m_exercise != nullptr);
    if (m_exercise == nullptr)
        return;
    const std::string left = missing(*m_exercise, *m_rehearsed, guess());
    m_says->setText(u"%1<br><b>%2</b>"_s.arg(qs(m_exercise->says).toHtmlEscaped(),
                                             left.empty() ? tr("Done.") : qs(left).toHtmlEscaped()));
    if (!left.empty() || keptIn().isEmpty() || wasDone(*m_exercise))
        return;
    QSettings(keptIn(), QSettings::IniFormat).setValue(qs(m_exercise->id), true);
    markDone();
}

void Rehearsal::markDone()
{
    for (std::size_t i = 0; i < exercises().size(); ++i)
        m_choice->setItemIcon(static_cast<int>(i) + 1,
                              wasDone(exercises()[i]) ? mark(Verdict::Fits, m_look) : QIcon());
}

void Rehearsal::carryOut()
{
    const std::size_t before = m_rehearsed->played().moves.size();
    m_rehearsed->carryOut();
    if (m_rehearsed->played().moves.size() > before)
        m_number = m_rehearsed->played().moves.back().answer.move.unit;
    m_problem->clear();
    refresh();
    if (m_rehearsed->step() == nullptr)
        end();
}

bool Rehearsal::play(const QString& move)
{
    try {
        const PlayedMove& played = m_rehearsed->play(benchMoveFrom(move.toStdString(), {}));
        m_number = played.answer.move.unit;
        m_problem->setText(qs(played.answer.seen));
    } catch (const DocumentError& error) {
        m_problem->setText(QString::fromUtf8(error.what()));
        return false;
    }
    refresh();
    return true;
}

void Rehearsal::end()
{
    m_ended = true;
    refresh();
    m_suspecting.start(
        [this, rehearsed = *m_rehearsed](const Background::Wanted& wanted) -> Background::Finish {
            return [this, likely = likeliest(suspects(rehearsed, wanted))] {
                m_likely = likely;
                refresh();
            };
        });
}

void Rehearsal::refresh()
{
    m_picture->show(*m_rehearsed, m_number);
    const Benches& bench = m_rehearsed->benches();
    const Isolation isolation = m_rehearsed->isolation().state;
    m_state->setText(bench.live()                         ? tr("LIVE, in the rehearsal")
                     : isolation == Isolation::ProvenDead ? tr("proven dead, in the rehearsal")
                                                          : tr("off, not proven, in the rehearsal"));
    const Colours& c = m_look.colours();
    m_state->setStyleSheet(u"color: %1; background: %2; padding: %3; font-weight: bold"_s.arg(
        c.rehearsalText.name(), bench.live() ? lightColours().breaks.name() : u"transparent"_s,
        bench.live() ? u"2px 8px"_s : u"2px 0"_s));
    showExercise();
    showStep();
    showMoves();
    showCapture();
    m_moves->setVisible(!m_ended);
    m_end->setVisible(m_ended);
    if (!m_ended)
        return;
    const RehearsalEnd end = rehearsalEnd(*m_rehearsed, guess());
    QString html = u"<h3>%1</h3><p>%2</p><p>%3</p>"_s.arg(
        qs(end.fault).toHtmlEscaped(),
        qs(end.guessed + (end.guessed.empty() ? "" : " ") + end.told_by).toHtmlEscaped(),
        qs(end.time).toHtmlEscaped());
    if (!m_likely.empty()) {
        std::vector<std::string> likely;
        for (const Suspect& one : m_likely)
            likely.push_back(faultSentence(one.fault));
        html += u"<h4>%1</h4>"_s.arg(tr("What the readings speak for, likeliest first")) +
                listOf(likely, "ol"_L1);
    }
    html += u"<h4>%1</h4>"_s.arg(end.wrongs.empty() ? tr("No wrong move.") : tr("What it would have cost"));
    html += listOf(end.wrongs);
    if (!end.missed.empty())
        html += u"<h4>%1</h4>"_s.arg(tr("Not carried out")) + listOf(end.missed);
    html += u"<h4>%1</h4><table>"_s.arg(tr("What the unit truly was"));
    for (const auto& [name, value] : end.truth)
        html += u"<tr><td>%1&nbsp;&nbsp;</td><td><b>%2</b></td></tr>"_s.arg(qs(name).toHtmlEscaped(),
                                                                            qs(value).toHtmlEscaped());
    m_end->setHtml(html + u"</table>"_s);
}

void Rehearsal::showStep()
{
    const StepView* view = m_rehearsed->step();
    m_carry_out->setEnabled(view != nullptr);
    m_step->setText(view == nullptr ? tr("The last step is done.") : qs(view->step.title));
    QString html = view == nullptr ? QString() : qs(view->step.detail).toHtmlEscaped();
    // The gate of the real bench; here one may go through it, and sees what comes of it.
    const std::string gate =
        view == nullptr ? std::string() : refusal(view->step.kind, m_rehearsed->isolation());
    if (!gate.empty())
        html +=
            u"<p style='color:%1'>◆ %2</p>"_s.arg(m_look.colours().tight.name(), qs(gate).toHtmlEscaped());
    const ProcedurePlay& played = m_rehearsed->played();
    if (played.diagnosis)
        html += diagnosisHtml(*played.diagnosis, qs(played.diagnosed_reading), m_look);
    m_detail->setText(html);
}

/// The newest on top; what a wrong move would have done stands under the bench.
void Rehearsal::showMoves()
{
    m_moves->clear();
    for (const PlayedMove& move : m_rehearsed->played().moves) {
        auto* item = new QListWidgetItem(lineOf(move));
        if (const auto verdict = move.moveVerdict())
            item->setIcon(mark(*verdict, m_look));
        item->setToolTip(qs(move.because));
        m_moves->insertItem(0, item);
    }
    const auto& moves = m_rehearsed->played().moves;
    const WrongAnswer* wrong =
        moves.empty() || !moves.back().answer.wrong ? nullptr : &*moves.back().answer.wrong;
    m_wrong->setText(wrong == nullptr ? QString()
                     : wrong->first   ? qs(wrong->would)
                                      : tr("Once more: %1.").arg(qs(phrase(wrong->what))));
    m_wrong->setStyleSheet(u"color: %1"_s.arg(m_look.colours().breaks.name()));
}

/// What the oscilloscope saw, until the next move.
void Rehearsal::showCapture()
{
    const auto& moves = m_rehearsed->played().moves;
    const bool captured = !moves.empty() && moves.back().answer.capture;
    m_scope->setVisible(captured);
    if (!captured)
        return;
    const BenchAnswer& answer = moves.back().answer;
    const auto point = *enumFrom<CapturePoint>(answer.move.point);
    ComparedCaptures seen{.point = point, .unit = {}};
    seen.after = CaptureSeen{.entry = captureEntry(point, *answer.capture, m_job),
                             .title = point == CapturePoint::Surge ? "surge" : "ripple"};
    m_trace->show(seen, {});
    m_trace->setSamples({nullptr, std::make_shared<const CaptureTrace>(*answer.capture)});
}

void Rehearsal::saveCapture()
{
    const BenchAnswer answer = m_rehearsed->played().moves.back().answer;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Save what the oscilloscope saw"),
                                     u"rehearsed-%1.csv"_s.arg(qs(answer.move.point)), tr("CSV (*.csv)"));
    if (path.isEmpty())
        return;
    try {
        writeFile(path, QByteArray::fromStdString(
                            captureFile(*answer.capture, *enumFrom<CapturePoint>(answer.move.point),
                                        answer.move.dialect.value_or(CaptureDialect::Comma))));
    } catch (const StoreError& error) {
        m_problem->setText(QString::fromUtf8(error.what()));
    }
}

/// Another ground and another head, so that nobody takes it for the job.
void Rehearsal::paintEvent(QPaintEvent* /*event*/)
{
    const Colours& c = m_look.colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.paper);
    QColor stripe = c.measured;
    stripe.setAlphaF(0.07F);
    constexpr int apart = 24;
    painter.setPen(QPen(stripe, 8));
    for (int x = -height(); x < width(); x += m_look.px(apart))
        painter.drawLine(x, height(), x + height(), 0);
    painter.fillRect(m_head->geometry(), c.rehearsal);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(c.sheet);
    for (const QWidget* sheet : {m_bench, m_side}) {
        painter.setPen(sheet == m_bench ? QPen(c.measured, 2) : QPen(c.hairline, 1));
        painter.drawRoundedRect(sheet->geometry(), 4, 4);
    }
}

} // namespace offshoot::ui
