#include "ui/choose/choose_page.h"

#include "core/values/figures.h"
#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/option_list.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/marks.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

ChoosePage::ChoosePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_options(new OptionList(
          tr("Units on the shelf, best first"), look, 76,
          [this](QPainter& painter, const QRectF& box, int row) { paintOption(painter, box, row); },
          [this](int row) { return optionText(row); }))
    , m_details(richText())
    , m_plate(new QLineEdit)
    , m_echo(new Paragraph)
    , m_take(new QPushButton)
    , m_into(new QPushButton(tr("Into the job")))
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_options, 1);
    m_plate->setObjectName(u"plate"_s);
    m_plate->setAccessibleName(tr("A unit as its plate has it"));
    m_plate->setPlaceholderText(
        tr("onto the shelf, from its plate: Name: 24V 4.2A 100-240V class 1 129x97x30"));
    left->addWidget(m_plate);
    m_echo->setProperty("role", u"caption"_s);
    m_echo->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    left->addWidget(m_echo);
    left->addWidget(tools());
    body().addLayout(left, 11);
    body().addWidget(side(), 9);
    connect(m_options, &OptionList::looked, this, [this](int row) {
        m_session.preview([&](Job& job) { planRow(job, row); });
        showDetails();
    });
    connect(m_options, &OptionList::taken, this, &ChoosePage::takeCurrent);
    connect(m_plate, &QLineEdit::textChanged, this, &ChoosePage::echoPlate);
    connect(m_plate, &QLineEdit::returnPressed, this, &ChoosePage::putPlate);
    follow();
}

QWidget* ChoosePage::tools()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(6));
    auto* two = new QCheckBox(tr("also two together"));
    auto* found = new QPushButton(tr("Found unit onto the shelf"));
    auto* in = new QPushButton(tr("Import CSV…"));
    auto* out = new QPushButton(tr("Export CSV…"));
    row->addWidget(two);
    for (QPushButton* button : {found, in, out})
        row->addWidget(button);
    connect(two, &QCheckBox::toggled, this, [this](bool on) {
        m_two = on;
        refresh();
    });
    connect(found, &QPushButton::clicked, this, &ChoosePage::onShelf);
    connect(in, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Import a shelf"), {}, tr("CSV (*.csv)"));
        if (!path.isEmpty())
            importCsv(path);
    });
    connect(out, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, tr("Export the shelf"), u"shelf.csv"_s, tr("CSV (*.csv)"));
        if (!path.isEmpty())
            exportCsv(path);
    });
    return box;
}

QWidget* ChoosePage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scrolling(m_details), 1);
    auto* buttons = new QWidget;
    auto* row = new FlowRow(buttons, m_look.px(6));
    row->addWidget(m_take);
    row->addWidget(m_into);
    layout->addWidget(buttons);
    m_take->setObjectName(u"replace"_s);
    connect(m_take, &QPushButton::clicked, this, &ChoosePage::takeCurrent);
    m_into->setToolTip(tr("As a further unit, known by its plate alone"));
    connect(m_into, &QPushButton::clicked, this, &ChoosePage::intoJob);
    return box;
}

/// Two together are every pair of the shelf: on a worker.
void ChoosePage::refresh()
{
    m_matching.cancel();
    const Job& job = m_session.edited();
    // What is only looked at has figures of its own.
    const std::optional<Figures> own = m_session.previewing() ? std::optional(figuresOf(job)) : std::nullopt;
    const Figures& figures = own ? *own : m_session.evaluation();
    if (!m_two)
        return take(chooseView(job, figures, m_shelf.units(), 1));
    m_matching.start([this, job, figures, units = m_shelf.units()](const Background::Wanted&) {
        return [this, view = chooseView(job, figures, units, 2)] { take(view); };
    });
}

void ChoosePage::take(ChooseView view)
{
    m_view = std::move(view);
    setSentence(m_shelf.problem().isEmpty() ? qs(m_view.sentence) : m_shelf.problem());
    m_options->setCount(static_cast<int>(m_view.options.size()));
    if (m_view.planned)
        m_options->follow(static_cast<int>(*m_view.planned));
    else if (m_options->current() < 0 && !m_view.options.empty())
        m_options->follow(0);
    showDetails();
}

void ChoosePage::showDetails()
{
    m_details->setText(detailsHtml());
    const bool planned = m_view.planned && static_cast<int>(*m_view.planned) == m_options->current();
    m_take->setText(planned ? tr("Keep the old unit") : tr("Put it in the old one's place"));
    m_take->setEnabled(m_options->current() >= 0);
    m_into->setEnabled(m_options->current() >= 0 && m_session.job().others.size() + 2 <= most_units);
}

QString ChoosePage::optionText(int row) const
{
    const UnitsOption& option = m_view.options.at(static_cast<std::size_t>(row));
    return tr("%1: %2, most used %3, %4")
        .arg(qs(unitNames(option)), verdictWord(option.verdict), qs(formatPercent(option.worst_use)),
             qs(asksFor(option)));
}

/// A rail as a lane: its usual current on its rating, a stroke where the peak reaches.
void ChoosePage::paintRail(QPainter& painter, const QRectF& box, const MatchedRail& rail) const
{
    const Colours& c = m_look.colours();
    const double line = m_look.px(17);
    const Verdict verdict = railVerdict(rail);
    paintText(painter, QRectF(box.left(), box.top(), box.width(), line),
              u"%1 · %2"_s.arg(qs(rail.name), qs(formatVolts(rail.set_v))), m_look.caption(),
              rail.voltage_verdict == Verdict::Breaks ? c.breaks : c.ink);
    const QString used = rail.current_use ? qs(formatPercent(*rail.current_use)) : tr("none left");
    paintText(painter, QRectF(box.left(), box.top(), box.width(), line), used, m_look.caption(), c.softInk,
              Qt::AlignRight | Qt::AlignVCenter);
    const QRectF track(box.left(), box.top() + line + m_look.px(3), box.width(), m_look.px(7));
    paintUse(painter, track, rail.current_use, default_bounds.fits, verdict, c);
    if (rail.peak_use) {
        const double x = track.left() + std::min(*rail.peak_use * useLimitAt, 1.0) * track.width();
        painter.setPen(QPen(c.ink, 1.4));
        painter.drawLine(QPointF(x, track.top() - 3), QPointF(x, track.bottom() + 3));
    }
}

void ChoosePage::paintOption(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const UnitsOption& option = m_view.options.at(static_cast<std::size_t>(row));
    const double line = m_look.px(20);
    const double left = box.left() + m_look.px(22);
    const double top = box.top() + m_look.px(3);
    paintVerdict(painter, option.verdict, {box.left() + m_look.px(7), top + line / 2}, m_look.px(12), c);
    const QString power = qs(formatValue(option.rated_w, Quantity::Power));
    const int powerWidth = QFontMetrics(m_look.font(13)).horizontalAdvance(power) + m_look.px(10);
    paintText(painter, QRectF(left, top, box.right() - left - powerWidth, line), qs(unitNames(option)),
              m_look.font(14, true), c.ink);
    paintText(painter, QRectF(left, top, box.right() - left, line), power, m_look.font(13), c.softInk,
              Qt::AlignRight | Qt::AlignVCenter);
    std::vector<const MatchedRail*> rails;
    for (const MatchedUnit& unit : option.units)
        for (const MatchedRail& rail : unit.rails)
            rails.push_back(&rail);
    const double gap = m_look.px(14);
    const double width = (box.right() - left - gap * static_cast<double>(rails.size() - 1)) /
                         static_cast<double>(rails.size());
    for (std::size_t i = 0; i < rails.size(); ++i)
        paintRail(painter,
                  QRectF(left + static_cast<double>(i) * (width + gap), top + line, width, m_look.px(30)),
                  *rails[i]);
    paintText(painter, QRectF(left, top + line + m_look.px(30), box.right() - left, m_look.px(18)),
              qs(asksFor(option)), m_look.caption(), c.planned);
}

/// Of the one looked at: what was judged, worst first; then the school and what is assumed.
QString ChoosePage::detailsHtml() const
{
    const Colours& c = m_look.colours();
    QString html;
    const int row = m_options->current();
    if (row >= 0 && row < static_cast<int>(m_view.options.size())) {
        const UnitsOption& option = m_view.options[static_cast<std::size_t>(row)];
        for (const MatchedUnit& unit : option.units) {
            html += u"<p><b>%1</b></p>"_s.arg(qs(unit.name).toHtmlEscaped());
            if (const ShelfEntry* entry = entryNamed(m_shelf.units(), unit.name)) {
                const QString words = qs(shelfWords(*entry)).mid(qs(unit.name).size() + 2);
                html += u"<p style='color:%1'>%2%3</p>"_s.arg(
                    c.softInk.name(), words.toHtmlEscaped(),
                    entry->note.empty() ? QString() : u"<br>"_s + qs(entry->note).toHtmlEscaped());
            }
            html += judgedHtml(judgedLines(unit), c);
        }
    }
    html += schoolsHtml({m_view.school}, c);
    for (const std::string& assumed : m_view.assumed)
        html += u"<span style='color:%1'>%2</span><br>"_s.arg(
            c.softInk.name(), tr("assumed, %1").arg(qs(assumed).toHtmlEscaped()));
    return html;
}

void ChoosePage::echoPlate(const QString& text)
{
    if (text.trimmed().isEmpty())
        return m_echo->clear();
    const auto entry = readPlateLine(text.toStdString());
    m_echo->setText(entry ? qs(shelfWords(*entry)) : qs(entry.problem().message));
}

void ChoosePage::putPlate()
{
    const auto entry = readPlateLine(m_plate->text().toStdString());
    if (!entry)
        return m_echo->setText(qs(entry.problem().message)); // what was typed stays
    const QString problem = m_shelf.put(*entry);
    if (problem.isEmpty())
        m_plate->clear();
    tell(problem, tr("%1 is on the shelf.").arg(qs(entry->unit.name)));
}

void ChoosePage::tell(const QString& problem, const QString& done)
{
    refresh();
    m_echo->setText(problem.isEmpty() ? done : problem);
}

void ChoosePage::onShelf()
{
    const auto entry = entryOf(m_session.job().found, m_session.job().need.mains);
    if (!entry || entry->unit.name.empty())
        return m_echo->setText(
            tr("Enter in Found its name, and volts and amperes of each rail, and in Need the mains."));
    tell(m_shelf.put(*entry), tr("%1 is on the shelf.").arg(qs(entry->unit.name)));
}

void ChoosePage::planRow(Job& job, int row) const
{
    if (row >= 0 && row < static_cast<int>(m_view.options.size()))
        planReplacement(job, replacePlan(m_view.options[static_cast<std::size_t>(row)], m_shelf.units()));
}

/// A second time takes it out of the plan again.
void ChoosePage::takeCurrent()
{
    const int row = m_options->current();
    if (row < 0)
        return;
    m_session.clearPreview();
    const UnitsOption option = m_view.options.at(static_cast<std::size_t>(row));
    if (m_view.planned == static_cast<std::size_t>(row))
        return m_session.edit(tr("the old unit kept"), [](Job& job) { job.plan.replace.reset(); });
    m_session.edit(tr("%1 in the old one's place").arg(qs(unitNames(option))), [&](Job& job) {
        planRow(job, row);
        placeUnits(job);
    });
}

void ChoosePage::intoJob()
{
    const int row = m_options->current();
    if (row < 0)
        return;
    std::vector<Supply> units; // the view is made anew while the job is edited
    for (const MatchedUnit& unit : m_view.options.at(static_cast<std::size_t>(row)).units) {
        if (const ShelfEntry* entry = entryNamed(m_shelf.units(), unit.name))
            units.push_back(supplyOf(*entry));
    }
    if (m_session.job().others.size() + units.size() + 1 > most_units)
        return;
    m_session.edit(tr("from the shelf into the job"),
                   [&](Job& job) { job.others.insert(job.others.end(), units.begin(), units.end()); });
}

bool ChoosePage::importCsv(const QString& path)
{
    QString problem;
    try {
        const auto units = readShelfCsv(readFile(path).toStdString());
        problem = units ? m_shelf.replace(*units) : qs(units.problem().message);
        tell(problem, tr("%n unit(s) are on the shelf.", nullptr, static_cast<int>(m_shelf.units().size())));
    } catch (const StoreError& error) {
        problem = QString::fromUtf8(error.what());
        m_echo->setText(problem);
    }
    return problem.isEmpty();
}

bool ChoosePage::exportCsv(const QString& path)
{
    try {
        writeFile(path, QByteArray::fromStdString(writeShelfCsv(m_shelf.units())));
    } catch (const StoreError& error) {
        m_echo->setText(QString::fromUtf8(error.what()));
        return false;
    }
    m_echo->setText(tr("Written to %1.").arg(path));
    return true;
}

} // namespace offshoot::ui
