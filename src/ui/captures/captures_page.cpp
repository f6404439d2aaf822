#include "ui/captures/captures_page.h"

#include "core/values/format.h"
#include "ui/beside.h"
#include "ui/captures/capture_intake.h"
#include "ui/captures/capture_picture.h"
#include "ui/fields/value_field.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

CapturesPage::CapturesPage(CaptureIntake& intake, JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_intake(intake)
    , m_trace(new TracePicture(look))
    , m_spectrum(new SpectrumPicture(look))
    , m_which(new QComboBox)
    , m_doubts(richText())
    , m_says(richText())
    , m_form(intakeForm())
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_trace, 5);
    left->addWidget(m_spectrum, 4);
    body().addLayout(left, 5);
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    m_which->setAccessibleName(tr("Which captures are shown"));
    column->addWidget(m_which);
    column->addWidget(m_form);
    column->addWidget(m_doubts);
    column->addWidget(m_says);
    auto* add = new QPushButton(tr("A file of the oscilloscope…"));
    column->addWidget(add, 0, Qt::AlignLeft);
    auto* scope = new QFormLayout;
    scope->setVerticalSpacing(look.px(2));
    addValueRow(*scope,
                {.label = tr("Probe, times"),
                 .quantity = Quantity::Number,
                 .get = [](const Job& job) { return job.meter.probe_factor; },
                 .set = [](Job& job, std::optional<double> v) { job.meter.probe_factor = v; },
                 .hint = tr("1, or 10")},
                session);
    addValueRow(*scope,
                {.label = tr("Amperes for a volt"),
                 .quantity = Quantity::Number,
                 .get = [](const Job& job) { return job.meter.amps_per_volt; },
                 .set = [](Job& job, std::optional<double> v) { job.meter.amps_per_volt = v; },
                 .hint = tr("10")},
                session);
    column->addLayout(scope);
    column->addWidget(
        caption(tr("What one volt in the file is: at the probe's tip, and through the current probe "
                   "or shunt. Asked once, kept with the meter.")));
    column->addStretch();
    body().addWidget(scrolling(box), 3);
    connect(add, &QPushButton::clicked, this, &CapturesPage::fileWanted);
    connect(m_trace, &TracePicture::samplesWanted, this, &CapturesPage::readSamples);
    connect(m_which, &QComboBox::activated, this, [this] { refresh(); });
    connect(&intake, &CaptureIntake::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    follow();
}

QWidget* CapturesPage::intakeForm()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, m_look.px(8));
    m_formSays = richText();
    column->addWidget(m_formSays);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(m_look.px(2));
    m_point = new QComboBox;
    m_point->addItems({tr("ripple"), tr("surge")});
    m_point->setAccessibleName(tr("What was captured"));
    m_column = new QComboBox;
    m_column->setAccessibleName(tr("Column of the file"));
    m_load = new QLineEdit;
    m_load->setAccessibleName(tr("Load of the capture"));
    m_load->setPlaceholderText(tr("2A, 50W or 10R"));
    constexpr int letters = 9;
    for (QComboBox* each : {m_point, m_column}) {
        each->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        each->setMinimumContentsLength(letters);
    }
    form->addRow(tr("What"), m_point);
    form->addRow(tr("Column"), m_column);
    form->addRow(tr("With the load"), m_load);
    column->addLayout(form);
    auto* row = new QHBoxLayout;
    m_keep = new QPushButton(tr("Log it"));
    m_keep->setProperty("main", true);
    auto* drop = new QPushButton(tr("Leave it"));
    row->addWidget(m_keep);
    row->addWidget(drop);
    row->addStretch();
    column->addLayout(row);
    connect(m_point, &QComboBox::activated, this, [this](int at) {
        m_intake.change([at](CaptureAsk& ask) { ask.point = static_cast<CapturePoint>(at); });
    });
    connect(m_column, &QComboBox::activated, this, [this](int at) {
        m_intake.change([at](CaptureAsk& ask) { ask.column = std::int64_t{at} + 1; });
    });
    connect(m_load, &QLineEdit::editingFinished, this, &CapturesPage::takeLoad);
    connect(m_load, &QLineEdit::returnPressed, this, [this] {
        takeLoad();
        if (m_loadProblem.isEmpty())
            m_intake.keep();
    });
    connect(m_keep, &QPushButton::clicked, &m_intake, &CaptureIntake::keep);
    connect(drop, &QPushButton::clicked, &m_intake, &CaptureIntake::drop);
    return box;
}

void CapturesPage::takeLoad()
{
    const auto& ask = m_intake.waiting();
    const std::string text = m_load->text().trimmed().toStdString();
    const auto load = readLoad(text);
    const QString wrong = text.empty() || load ? QString() : tr("The load is in A, W or ohms.");
    if (!ask || (ask->load == load && wrong == m_loadProblem))
        return;
    m_loadProblem = wrong;
    m_intake.change([&load](CaptureAsk& changed) { changed.load = load; });
}

void CapturesPage::showIntake()
{
    const auto& ask = m_intake.waiting();
    m_form->setVisible(ask.has_value());
    if (!ask) {
        m_loadProblem.clear();
        return;
    }
    const Colours& c = m_look.colours();
    const QString name = QFileInfo(qs(ask->path)).fileName().toHtmlEscaped();
    QString says = u"<b>%1</b><br>"_s.arg(name);
    const auto wants = [&](const QString& text) {
        says += u"<span style='color:%1'>◆ %2</span>"_s.arg(c.tight.name(), text);
    };
    if (!m_intake.problem().isEmpty())
        says +=
            u"<span style='color:%1'>▼ %2</span>"_s.arg(c.breaks.name(), m_intake.problem().toHtmlEscaped());
    else if (m_intake.missing() == CaptureMissing::ProbeFactor)
        wants(tr(
            "The file does not say what the probe divides by. Enter it below: 1 if the oscilloscope was told "
            "of its probe."));
    else if (m_intake.missing() == CaptureMissing::AmpsPerVolt)
        wants(tr("The file is in volts. Enter below how many amperes one volt is."));
    else if (!m_intake.entry())
        says += tr("is being read …");
    else {
        const LogEntry& entry = *m_intake.entry();
        const CaptureResult& saw = entry.capture->study.saw;
        says += tr("%1 in %2 samples over %3")
                    .arg(qs(captureValue(*entry.value, ask->point)), QString::number(saw.n),
                         qs(formatValue(saw.duration_s, Quantity::Time)));
        if (!ask->load && ask->point == CapturePoint::Ripple)
            wants(u"<br>"_s + tr("With which load? Ripple grows with it."));
    }
    if (!m_loadProblem.isEmpty())
        says += u"<br><span style='color:%1'>▼ %2</span>"_s.arg(c.breaks.name(), m_loadProblem);
    m_formSays->setText(says);
    const QSignalBlocker points(m_point);
    const QSignalBlocker columns(m_column);
    m_point->setCurrentIndex(static_cast<int>(ask->point));
    QStringList names;
    for (std::size_t k = 1; k < m_intake.headings().size(); ++k) {
        const CaptureHeading& heading = m_intake.headings()[k];
        names << (heading.name.empty() ? tr("column %1").arg(k) : qs(heading.name)) +
                     (heading.unit.empty() || heading.name.find(heading.unit) != std::string::npos
                          ? QString()
                          : u" ("_s + qs(heading.unit) + u')');
    }
    m_column->clear();
    m_column->addItems(names);
    int at = 0;
    if (ask->column) {
        if (const auto* number = std::get_if<std::int64_t>(&*ask->column))
            at = static_cast<int>(*number) - 1;
        else
            for (std::size_t k = 1; k < m_intake.headings().size(); ++k)
                if (m_intake.headings()[k].name == std::get<std::string>(*ask->column))
                    at = static_cast<int>(k) - 1;
    }
    m_column->setCurrentIndex(at);
    if (!m_load->hasFocus() && m_loadProblem.isEmpty())
        m_load->setText(ask->load ? qs(formatValue(ask->load->value, ask->load->quantity)) : QString());
    m_keep->setEnabled(m_intake.entry().has_value() && m_intake.missing() == CaptureMissing::Nothing &&
                       m_loadProblem.isEmpty());
}

std::optional<ComparedCaptures> CapturesPage::waiting() const
{
    if (!m_intake.waiting() || !m_intake.entry())
        return std::nullopt;
    ComparedCaptures alone{.point = m_intake.waiting()->point, .unit = m_intake.waiting()->unit};
    alone.after = CaptureSeen{.entry = *m_intake.entry(),
                              .title = tr("the file").toStdString(),
                              .lines = namedLines(m_intake.entry()->capture->study)};
    return alone;
}

void CapturesPage::readSamples()
{
    const auto kept_of = [](const std::optional<ComparedCaptures>& shown) {
        std::array<std::optional<KeptCapture>, 2> kept;
        if (shown && shown->before)
            kept[0] = shown->before->entry.capture;
        if (shown && shown->after)
            kept[1] = shown->after->entry.capture;
        return kept;
    };
    m_reading.start([this, kept_of, kept = kept_of(m_shown),
                     job = m_session.store().path()](const Background::Wanted&) -> Background::Finish {
        TracePicture::Samples samples;
        QStringList unread;
        for (std::size_t i = 0; i < kept.size(); ++i) {
            if (!kept[i])
                continue;
            const QString path = pathBeside(job, qs(kept[i]->file));
            try {
                samples[i] =
                    std::make_shared<const CaptureTrace>(keptTrace(*kept[i], readFile(path).toStdString()));
            } catch (const std::exception&) { // StoreError: gone; DocumentError: no longer what it was
                unread << QFileInfo(path).fileName();
            }
        }
        return [this, kept_of, kept, samples, unread] {
            if (kept != kept_of(m_shown))
                return; // others are shown by now
            m_trace->setSamples(samples);
            if (!unread.isEmpty())
                Q_EMIT m_session.problem(tr("The samples of %1 cannot be read any more: its outline is "
                                            "shown. Take the file in again "
                                            "to look closer.")
                                             .arg(unread.join(u", "_s)));
        };
    });
}

QString CapturesPage::figuresHtml(const ComparedCaptures& compared) const
{
    const Colours& c = m_look.colours();
    QString html;
    const auto verdict = [&](const std::optional<CaptureSeen>& seen) {
        if (!seen || !seen->verdict)
            return u"–"_s;
        return u"<b style='color:%1'>%2</b>"_s.arg(c.verdict(*seen->verdict).name(),
                                                   verdictWord(*seen->verdict));
    };
    const auto title = [](const std::optional<CaptureSeen>& seen, const QString& without) {
        return seen ? qs(seen->title).replace(u", "_s, u"<br>"_s) : without;
    };
    html += u"<table width='100%' cellspacing='2'><tr><td></td><td style='color:%1'>%2</td>"
            "<td style='color:%3'>%4</td></tr>"_s.arg(c.found.name(), title(compared.before, tr("before")),
                                                      c.measured.name(), title(compared.after, tr("after")));
    if (compared.limit)
        html += u"<tr><td style='color:%1'>%2</td><td>%3</td><td>%4</td></tr>"_s.arg(
            c.softInk.name(), tr("of %1").arg(qs(captureValue(*compared.limit, compared.point))),
            verdict(compared.before), verdict(compared.after));
    bool first = true;
    for (const CaptureRow& row : captureRows(compared)) {
        const auto cell = [&](const std::optional<double>& v) {
            const QString text = v ? qs(formatValue(*v, row.quantity, 3)).replace(u' ', u"&nbsp;"_s) : u"–"_s;
            return first ? u"<b>%1</b>"_s.arg(text) : text;
        };
        html += u"<tr><td style='color:%1'>%2</td><td>%3</td><td>%4</td></tr>"_s.arg(
            c.softInk.name(), qs(row.name), cell(row.before), cell(row.after));
        first = false;
    }
    html += u"</table>"_s;
    for (const std::string& remark : compared.remarks)
        html += u"<p>%1</p>"_s.arg(qs(remark).toHtmlEscaped());
    return html;
}

void CapturesPage::refresh()
{
    m_view = capturesView(m_session.job());
    const int kept = m_which->currentIndex();
    QStringList names;
    for (const ComparedCaptures& compared : m_view.all)
        names << (compared.point == CapturePoint::Surge ? tr("Surge at switch-on") : tr("Ripple")) +
                     (compared.unit ? tr(", unit %1").arg(qs(*compared.unit)) : QString());
    {
        const QSignalBlocker blocked(m_which);
        m_which->clear();
        m_which->addItems(names);
        m_which->setCurrentIndex(
            std::clamp(kept, 0, static_cast<int>(std::max<qsizetype>(names.size(), 1)) - 1));
    }
    m_which->setVisible(names.size() > 1);
    showIntake();
    std::optional<ComparedCaptures> shown = waiting();
    const bool previewed = shown.has_value();
    if (!shown && !m_view.all.empty())
        shown = m_view.all[static_cast<std::size_t>(std::max(m_which->currentIndex(), 0))];
    setSentence(previewed ? tr("This is what the file has. It is not logged yet.")
                : shown   ? qs(shown->sentence)
                          : qs(m_view.sentence));
    SurgeCurve simulated;
    if (shown && shown->point == CapturePoint::Surge && !previewed) {
        const InrushView inrush = inrushView(m_session.job());
        simulated = shown->after && !inrush.limited.t_s.empty() ? inrush.limited : inrush.bare;
    }
    m_shown = shown;
    m_trace->show(shown, simulated);
    m_spectrum->show(shown);
    m_spectrum->setVisible(!shown || shown->point == CapturePoint::Ripple); // a surge is no ripple
    QString doubts;
    if (shown)
        for (const std::string& doubt : shown->doubts)
            doubts += u"<p style='color:%1'>◆ %2</p>"_s.arg(m_look.colours().tight.name(),
                                                            qs(doubt).toHtmlEscaped());
    m_doubts->setText(doubts);
    m_doubts->setVisible(!doubts.isEmpty());
    m_says->setText(shown && !previewed ? figuresHtml(*shown) : QString());
}

} // namespace offshoot::ui
