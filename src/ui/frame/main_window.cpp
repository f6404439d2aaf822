#include "ui/frame/main_window.h"

#include "ui/batch/board_page.h"
#include "ui/captures/capture_intake.h"
#include "ui/captures/captures_page.h"
#include "ui/fields/page_area.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/tab_order.h"
#include "ui/fields/tabs.h"
#include "ui/found/bench_walk.h"
#include "ui/found/found_page.h"
#include "ui/frame/bench_mode.h"
#include "ui/frame/consequences_panel.h"
#include "ui/frame/first_notes.h"
#include "ui/frame/header_bar.h"
#include "ui/frame/log_bar.h"
#include "ui/frame/meter_table.h"
#include "ui/frame/power_path.h"
#include "ui/frame/stage_rail.h"
#include "ui/need/need_page.h"
#include "ui/plan/plan_page.h"
#include "ui/procedure/procedure_view.h"
#include "ui/readouts/readouts_page.h"
#include "ui/recording/recording_page.h"
#include "ui/signoff/signoff_page.h"

#include <QAbstractButton>
#include <QCloseEvent>
#include <QDateTime>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QMimeData>
#include <QPainter>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace offshoot::ui {

/// The thin line around the window. It is painted, because a sheet of its own would polish every widget of
/// the window again.
class WindowEdge : public QWidget
{
public:
    WindowEdge() { setAttribute(Qt::WA_OpaquePaintEvent); }
    void setColour(const QColor& colour)
    {
        if (m_colour == colour)
            return;
        m_colour = colour;
        update();
    }

protected:
    void paintEvent(QPaintEvent* event) override { QPainter(this).fillRect(event->rect(), m_colour); }

private:
    QColor m_colour;
};

using namespace Qt::StringLiterals;

namespace {

/// Dialogs too are in these.
void wearColours(const Colours& c)
{
    if (qApp->palette().color(QPalette::Window) == c.sheet)
        return;
    QPalette palette;
    palette.setColor(QPalette::Window, c.sheet);
    palette.setColor(QPalette::WindowText, c.ink);
    palette.setColor(QPalette::Base, c.sheet);
    palette.setColor(QPalette::Text, c.ink);
    palette.setColor(QPalette::ButtonText, c.ink);
    palette.setColor(QPalette::PlaceholderText, c.softInk);
    palette.setColor(QPalette::Highlight, c.planned);
    palette.setColor(QPalette::HighlightedText, c.sheet);
    qApp->setPalette(palette);
}

} // namespace

double systemTime() { return static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000; }

MainWindow::MainWindow(JobStore store, std::function<double()> now_s, LookSetting look, QWidget* parent)
    : QMainWindow(parent)
    , m_nowS(now_s)
    , m_look(std::make_unique<Look>(look))
    , m_session(std::make_unique<JobSession>(std::move(store), std::move(now_s)))
    , m_captures(std::make_unique<CaptureIntake>(*m_session))
{
    m_recording = std::make_unique<RecordingRun>(*m_session, m_meters);
    setAttribute(Qt::WA_DeleteOnClose);
    setMinimumSize(960, 640);
    setAcceptDrops(true);
    resize(1280, 800);
    dress(); // first: what is built then wears it from the start
    buildLayout();
    buildActions();
    connect(m_session.get(), &JobSession::changed, this, &MainWindow::refreshFrame);
    connect(m_session.get(), &JobSession::problem, this, &MainWindow::say);
    connect(m_look.get(), &Look::changed, this, &MainWindow::dress);
    connect(m_look.get(), &Look::changed, this, &MainWindow::fitFrame);
    qApp->installEventFilter(this);
    fitFrame();
    const Evaluation& e = m_session->evaluation();
    showStage(!m_session->job().need.target ? Stage::Need : !e.divider ? Stage::Found : Stage::Plan);
    refreshFrame();
    if (!m_session->store().message().isEmpty())
        say(m_session->store().message());
}

MainWindow::~MainWindow()
{
    // Views listen to the session: they go first.
    delete m_bench;
    delete centralWidget(); // where it is: taken out, each of its widgets would lose its style first
}

void MainWindow::buildLayout()
{
    m_frame = new WindowEdge;
    auto* column = new QVBoxLayout(m_frame);
    column->setContentsMargins(2, 2, 2, 2);
    column->setSpacing(0);
    m_frame->setObjectName(u"frame"_s);
    m_header = new HeaderBar(*m_session, *m_look);
    m_path = new PowerPath(*m_session, *m_look);
    for (QWidget* fixed : {static_cast<QWidget*>(m_header), static_cast<QWidget*>(m_path)})
        fixed->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    column->addWidget(m_header);
    column->addWidget(m_path);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    m_rail = new StageRail(*m_session, *m_look);
    m_rail->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    m_pages = new QStackedWidget;
    m_pages->setObjectName(u"workspace"_s);
    m_consequences = new ConsequencesPanel(*m_session, *m_look);
    middle->addWidget(m_rail);
    middle->addWidget(m_pages, 1);
    middle->addWidget(m_consequences);
    column->addLayout(middle, 1);
    m_notes = new FirstNotes(*m_look);
    column->addWidget(m_notes);
    m_message = new Paragraph;
    m_message->setObjectName(u"message"_s);
    m_message->hide();
    column->addWidget(m_message);
    m_log = new LogBar(*m_session, m_meters, *m_look);
    m_log->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    column->addWidget(m_log);
    setCentralWidget(m_frame);
    connect(m_rail, &StageRail::chosen, this, &MainWindow::showStage);
    connect(m_consequences, &ConsequencesPanel::planWanted, this, [this] { showStage(Stage::Plan); });
    connect(m_consequences, &ConsequencesPanel::unfoldWanted, this, [this] {
        m_foldedByHand = false;
        m_consequences->setFolded(false);
        m_consequences->setFixedWidth(m_look->px(342));
    });
    connect(m_log, &LogBar::captureWanted, this, [this](const CaptureAsk& ask) {
        m_captures->take(ask, true);
        showCaptures();
    });
    connect(m_captures.get(), &CaptureIntake::kept, this, [this] { say(tr("Logged.")); });
}

/// Built when it is first wanted: a window opens with one of the six.
QWidget& MainWindow::pageOf(Stage stage)
{
    QWidget*& page = m_stages.at(static_cast<std::size_t>(stage));
    if (page != nullptr)
        return *page;
    switch (stage) {
    case Stage::Need:
        page = new NeedPage(*m_session, *m_look);
        break;
    case Stage::Found:
        page = m_found = new FoundPage(*m_session, *m_look);
        connect(&m_found->steps(), &ProcedureView::logWanted, this, &MainWindow::beginLog);
        break;
    case Stage::Plan:
        page = m_plan = new PlanPage(*m_session, *m_look);
        break;
    case Stage::Change:
        page = changePage();
        break;
    case Stage::BringUp:
        page = bringUpPage();
        break;
    case Stage::SignOff:
        page = signOffStage();
        break;
    }
    m_pages->addWidget(page);
    tabBehind(*m_rail, *page);
    return *page;
}

QWidget* MainWindow::stepsPage(const QString& title, ProcedureView& steps, const QStringList& names,
                               const std::vector<QWidget*>& others, std::vector<QAbstractButton*>& tabs)
{
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(m_look->px(20), m_look->px(10), m_look->px(14), m_look->px(6));
    auto* head = new QHBoxLayout;
    auto* says = new QLabel(title);
    says->setProperty("role", u"title"_s);
    head->addWidget(says);
    head->addStretch();
    auto* stack = new QStackedWidget;
    tabs = addTabs(*head, names, [stack](int index) { stack->setCurrentIndex(index); });
    layout->addLayout(head);
    layout->addWidget(stack, 1);
    stack->addWidget(&steps);
    for (QWidget* other : others)
        stack->addWidget(other);
    return page;
}

QWidget* MainWindow::changePage()
{
    auto* steps = new ProcedureView(Stage::Change, *m_session, *m_look);
    connect(steps, &ProcedureView::logWanted, this, &MainWindow::beginLog);
    connect(steps, &ProcedureView::rehearsalWanted, this, &MainWindow::rehearse);
    m_board = new BoardPage(*m_session, *m_look);
    connect(m_board, &BoardPage::unitTaken, this, [this] {
        // What it is to do next is in front.
        const Evaluation& e = m_session->evaluation();
        const auto open =
            std::ranges::find_if(e.steps, [](const StepView& v) { return v.status != StepStatus::Done; });
        if (open != e.steps.end() && open->step.stage == Stage::Change)
            m_changeTabs.front()->click();
        else if (open != e.steps.end())
            showStage(open->step.stage);
        say(tr("Unit %1 is in hand.").arg(m_session->unit()));
    });
    return stepsPage(tr("Make safe, change, inspect"), *steps, {tr("Steps"), tr("Board")}, {m_board},
                     m_changeTabs);
}

QWidget* MainWindow::bringUpPage()
{
    auto* steps = new ProcedureView(Stage::BringUp, *m_session, *m_look);
    connect(steps, &ProcedureView::logWanted, this, &MainWindow::beginLog);
    auto* captures = new CapturesPage(*m_captures, *m_session, *m_look);
    connect(captures, &CapturesPage::fileWanted, this, &MainWindow::askCapture);
    auto* recording = new RecordingPage(*m_recording, *m_session, *m_look);
    m_readouts = new ReadoutsPage(*m_session, *m_look);
    return stepsPage(tr("Bring it up, a step at a time"), *steps,
                     {tr("Steps"), tr("Captures"), tr("Over time"), tr("Readouts")},
                     {new PageArea(captures), recording, m_readouts}, m_bringUpTabs);
}

QWidget* MainWindow::signOffStage()
{
    m_signOff = new SignOffPage(*m_captures, *m_session, *m_look);
    connect(&m_signOff->steps(), &ProcedureView::logWanted, this, &MainWindow::beginLog);
    connect(&m_signOff->captures(), &CapturesPage::fileWanted, this, &MainWindow::askCapture);
    connect(m_signOff, &SignOffPage::exportWanted, this, &MainWindow::exportAsking);
    connect(m_signOff, &SignOffPage::nextUnitWanted, this, &MainWindow::nextUnit);
    return m_signOff;
}

FoundPage& MainWindow::foundPage()
{
    pageOf(Stage::Found);
    return *m_found;
}

PlanPage& MainWindow::planPage()
{
    pageOf(Stage::Plan);
    return *m_plan;
}

SignOffPage& MainWindow::signOffPage()
{
    pageOf(Stage::SignOff);
    return *m_signOff;
}

BoardPage& MainWindow::showBoard()
{
    showStage(Stage::Change);
    m_changeTabs.at(1)->click();
    return *m_board;
}

void MainWindow::showCaptures()
{
    if (m_stage == Stage::SignOff)
        return m_signOff->showCaptures();
    showStage(Stage::BringUp);
    m_bringUpTabs.at(1)->click();
}

void MainWindow::showRecording()
{
    showStage(Stage::BringUp);
    m_bringUpTabs.at(2)->click();
}

void MainWindow::showSteps() { m_bringUpTabs.front()->click(); }

ReadoutsPage& MainWindow::showReadouts()
{
    showStage(Stage::BringUp);
    m_bringUpTabs.at(3)->click();
    return *m_readouts;
}

void MainWindow::takeCapture(const QString& path)
{
    CaptureAsk ask{.path = path.toStdString()};
    // What the step at hand asks for is what it was most likely captured with.
    if (const auto question = stepAsking(m_session->evaluation(), "ripple", Quantity::Voltage, {});
        question && question->asked->load_a)
        ask.load = ReadingLoad{*question->asked->load_a, Quantity::Current};
    m_captures->take(std::move(ask), false);
    showCaptures();
}

void MainWindow::askCapture()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("What the oscilloscope saw"), {},
                                                      tr("CSV (*.csv *.txt *.tsv)"));
    if (!path.isEmpty())
        takeCapture(path);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event)
{
    const QList<QUrl> urls = event->mimeData()->urls();
    if (urls.size() == 1 && urls.front().isLocalFile())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event)
{
    const QString path = event->mimeData()->urls().front().toLocalFile();
    event->acceptProposedAction();
    if (!path.endsWith(u".offshoot"_s))
        return takeCapture(path);
    if (MainWindow* window = openWindow(path, m_nowS, this))
        window->show();
}

bool MainWindow::attachMeter(const QString& text, std::size_t which)
{
    m_meterAddresses.at(which) = text;
    const auto address = bench::readMeterAddress(text);
    if (!address) {
        say(qs(address.problem().message));
        return false;
    }
    QString wrong;
    m_meters.link(which).setCommands(meterCommands(wrong));
    m_meters.link(which).attach(*address);
    if (!wrong.isEmpty())
        say(wrong);
    return true;
}

/// Fonts, colours and the style sheet, each of which goes through every widget there is.
void MainWindow::dress()
{
    if (qApp->font() != m_look->text())
        qApp->setFont(m_look->text());
    wearColours(m_look->colours());
    if (const QString sheet = m_look->styleSheet(); sheet != styleSheet()) // polishes every widget anew
        setStyleSheet(sheet);
}

/// The sizes of what stands around the pages.
void MainWindow::fitFrame()
{
    m_pages->setAttribute(Qt::WA_StyledBackground);
    m_rail->setFixedWidth(m_look->px(116));
    m_header->setFixedHeight(m_look->px(60));
    m_path->setFixedHeight(m_path->heightAt(width()));
    m_log->setFixedHeight(m_look->px(48));
    QResizeEvent event(size(), size());
    resizeEvent(&event);
    update();
}

void MainWindow::resizeEvent(QResizeEvent* event)
{
    QMainWindow::resizeEvent(event);
    constexpr int narrow = 1160;
    const bool fold = width() < m_look->px(narrow) || m_foldedByHand;
    m_consequences->setFolded(fold);
    m_consequences->setFixedWidth(m_look->px(fold ? 40 : 342));
    m_path->setFixedHeight(m_path->heightAt(width()));
    if (m_bench != nullptr)
        m_bench->setGeometry(rect());
}

void MainWindow::refreshFrame()
{
    if (m_session->evaluation().isolation.state != Isolation::Live) // now readings are wanted
        m_notes->offer(FirstNote::LogLine);
    // While the job is live a thin red line frames the whole window.
    const bool live = m_session->evaluation().isolation.state == Isolation::Live;
    const Colours& c = m_look->colours();
    m_path->setFixedHeight(m_path->heightAt(width()));
    m_frame->setColour(live ? lightColours().breaks : c.bar);
    setWindowTitle(
        tr("%1%2 – Offshoot").arg(m_session->unsaved() ? u"*"_s : QString(), qs(m_session->job().title)));
}

void MainWindow::say(const QString& text)
{
    m_message->setText(text);
    m_message->setVisible(!text.isEmpty());
    m_message->setAccessibleName(text);
}

QString MainWindow::message() const { return m_message->isVisibleTo(this) ? m_message->text() : QString(); }

void MainWindow::showStage(Stage stage)
{
    m_stage = stage;
    m_rail->show(stage);
    say({});
    QWidget& page = pageOf(stage);
    m_pages->setCurrentWidget(&page);
    page.setFocus();
    if (stage == Stage::Found || stage == Stage::Change || stage == Stage::BringUp)
        m_notes->offer(FirstNote::Isolation);
}

QString MainWindow::topic() const
{
    switch (m_stage) {
    case Stage::Need:
        return u"Need"_s;
    case Stage::Found:
        return m_found->topic();
    case Stage::Plan:
        return m_plan->topic();
    case Stage::Change:
        return m_changeTabs.at(1)->isChecked() ? u"A batch"_s : u"The procedure"_s;
    case Stage::BringUp:
        return m_bringUpTabs.at(1)->isChecked()   ? u"Captures"_s
               : m_bringUpTabs.at(2)->isChecked() ? u"Over time"_s
               : m_bringUpTabs.at(3)->isChecked() ? u"Readouts"_s
                                                  : u"The procedure"_s;
    case Stage::SignOff:
        return m_signOff->captures().isVisible() ? u"Captures"_s : u"Before the sign-off"_s;
    }
    return {};
}

void MainWindow::setBench(bool on)
{
    if (on == (m_bench != nullptr))
        return;
    if (!on) {
        m_bench->hide();
        m_bench->deleteLater();
        m_bench = nullptr;
        return;
    }
    const auto leave = [this] { setBench(false); };
    if (m_stage == Stage::Found && m_found->tab() == FoundTab::Walk) {
        auto* walk = new BenchWalk(m_found->walk(), *m_session, *m_look, this);
        connect(walk, &BenchWalk::closed, this, leave);
        m_bench = walk;
    } else {
        auto* steps = new BenchMode(*m_session, m_meters, *m_look, this);
        connect(steps, &BenchMode::closed, this, leave);
        m_bench = steps;
    }
    m_bench->setGeometry(rect());
    m_bench->show();
    m_bench->setFocus();
}

void MainWindow::beginLog(const QString& text)
{
    m_log->entry().setFocus();
    if (!text.isEmpty()) {
        m_log->entry().setText(text);
        Q_EMIT m_log->entry().textEdited(text);
    }
}

/// "/" jumps to the log line from anywhere that does not take text itself; lists would search for it. Undo in
/// a field that holds nothing uncommitted is the job's, not the field's.
bool MainWindow::eventFilter(QObject* watched, QEvent* event)
{
    const bool press = event->type() == QEvent::KeyPress;
    if (!press && event->type() != QEvent::ShortcutOverride)
        return QMainWindow::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const auto* widget = qobject_cast<QWidget*>(watched);
    const auto* line = qobject_cast<const QLineEdit*>(watched);
    const bool here = widget != nullptr && widget->window() == this && m_bench == nullptr;
    if (here && press && line == nullptr && key->key() == Qt::Key_Slash) {
        beginLog({});
        return true;
    }
    const bool undoes = key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo);
    if (here && !press && line != nullptr && !line->isModified() && undoes) {
        event->ignore();
        return true;
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape)
        return say({});
    QMainWindow::keyPressEvent(event);
}

bool MainWindow::saveAs()
{
    QString path = QFileDialog::getSaveFileName(
        this, tr("Save the job"), qs(m_session->job().title) + u".offshoot"_s, tr("Jobs (*.offshoot)"));
    if (path.isEmpty())
        return false;
    if (!path.endsWith(u".offshoot"_s))
        path += u".offshoot"_s;
    return m_session->saveAs(path);
}

MainWindow* MainWindow::openWindow(const QString& path, const std::function<double()>& now_s,
                                   MainWindow* asking)
{
    try {
        return new MainWindow(JobStore::open(path), now_s,
                              asking != nullptr ? asking->look().setting() : LookSetting{});
    } catch (const StoreError& error) {
        QMessageBox::warning(asking, tr("Offshoot"), QString::fromUtf8(error.what()));
        return nullptr;
    }
}

MainWindow* MainWindow::newWindow(const std::function<double()>& now_s, LookSetting look)
{
    return new MainWindow(JobStore::untitled(), now_s, look);
}

void MainWindow::nextUnit()
{
    try {
        auto* window = newWindow(m_nowS, m_look->setting());
        const Job next = sameChangeOnAnotherUnit(m_session->job());
        window->session().edit(tr("same change on another unit"), [&](Job& job) {
            auto log = std::move(job.log);
            const auto revision = job.revision;
            job = next;
            job.log = std::move(log);
            job.revision = revision;
        });
        window->showStage(Stage::Found);
        window->show();
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
    }
}

void MainWindow::closeEvent(QCloseEvent* event)
{
    m_recording->stop(); // what it has is logged
    if (!m_session->unsaved() || m_session->store().readOnly())
        return event->accept();
    // Everything is in the journal: closing loses nothing. A job with a file is folded into it.
    if (!m_session->store().path().isEmpty() && !m_session->save())
        return event->ignore();
    event->accept();
}

} // namespace offshoot::ui
