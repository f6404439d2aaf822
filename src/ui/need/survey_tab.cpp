#include "ui/need/survey_tab.h"

#include "core/values/figures.h"
#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/fields/job_table.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double lane = 24;

bool standsTwice(const Job& job, std::size_t row)
{
    const StateDraw& own = job.need.measured.at(row);
    return std::ranges::count_if(job.need.measured, [&](const StateDraw& other) {
               return other.state == own.state && other.rail == own.rail;
           }) > 1;
}

QString readName(Job& job, std::size_t row, std::string StateDraw::*member, const QString& text)
{
    const std::string name = text.trimmed().toStdString();
    if (name.empty())
        return SurveyTab::tr("a name is wanted");
    std::string& value = job.need.measured.at(row).*member;
    const std::string before = value;
    value = name;
    if (!standsTwice(job, row))
        return {};
    value = before;
    return SurveyTab::tr("this rail stands in that state already");
}

TableColumn nameColumn(const QString& title, std::string StateDraw::*member)
{
    return {
        .title = title,
        .get = [member](const Job& job, std::size_t row) { return qs(job.need.measured.at(row).*member); },
        .set = [member](Job& job, std::size_t row,
                        const QString& text) { return readName(job, row, member, text); }};
}

/// A current, or a time; the usual one must lie between the others.
template <class Member>
TableColumn figureColumn(const QString& title, Quantity quantity, Member member)
{
    return {.title = title,
            .get =
                [quantity, member](const Job& job, std::size_t row) {
                    const std::optional<double> value = job.need.measured.at(row).*member;
                    return value ? qs(formatValue(*value, quantity)) : QString();
                },
            .set = [quantity, member](Job& job, std::size_t row, const QString& text) -> QString {
                StateDraw& draw = job.need.measured.at(row);
                const StateDraw before = draw;
                if (text.trimmed().isEmpty()) {
                    draw.*member = {};
                } else {
                    const auto value = parseValue(text.toStdString(), quantity);
                    if (!value)
                        return qs(value.problem().message);
                    if (value->value < 0)
                        return SurveyTab::tr("not below 0");
                    draw.*member = value->value;
                }
                if (draw.least_a.value_or(draw.usual_a) <= draw.usual_a &&
                    draw.usual_a <= draw.peak_a.value_or(draw.usual_a))
                    return {};
                draw = before;
                return SurveyTab::tr("what is usual lies between least and peak");
            },
            .narrow = true};
}

TableSpec drawsSpec()
{
    return {.name = SurveyTab::tr("What it draws"),
            .one = SurveyTab::tr("reading"),
            .count = [](const Job& job) { return job.need.measured.size(); },
            .add =
                [](Job& job) {
                    StateDraw made{.state = "everything on", .rail = job.found.rails.front().name};
                    job.need.measured.push_back(made);
                    for (int i = 2; standsTwice(job, job.need.measured.size() - 1); ++i)
                        job.need.measured.back().state = "state " + std::to_string(i);
                },
            .remove =
                [](Job& job, std::size_t row) {
                    job.need.measured.erase(job.need.measured.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {nameColumn(SurveyTab::tr("state"), &StateDraw::state),
                        nameColumn(SurveyTab::tr("rail"), &StateDraw::rail),
                        figureColumn(SurveyTab::tr("least"), Quantity::Current, &StateDraw::least_a),
                        figureColumn(SurveyTab::tr("usual"), Quantity::Current, &StateDraw::usual_a),
                        figureColumn(SurveyTab::tr("peak"), Quantity::Current, &StateDraw::peak_a),
                        figureColumn(SurveyTab::tr("for"), Quantity::Time, &StateDraw::peak_s),
                        figureColumn(SurveyTab::tr("±"), Quantity::Current, &StateDraw::u_a)}};
}

} // namespace

SurveyPicture::SurveyPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What the load draws in each state"));
    sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(60)); });
}

void SurveyPicture::show(const SurveyView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    constexpr std::size_t most = 12;
    const auto lanes = static_cast<double>(std::clamp<std::size_t>(view.lanes.size(), 1, most));
    setFixedHeight(m_look.px(26 + lane * lanes));
    update();
}

void SurveyPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.result)
        return;
    const Colours& c = m_look.colours();
    const std::string& first = m_view.result->rails.front().name;
    double most_a = 1e-6;
    for (const RailSurvey& rail : m_view.result->rails)
        most_a = std::max(most_a, rail.peak_a);
    const double left = m_look.px(190);
    const double right = width() - m_look.px(90);
    const auto x = [&](double a) {
        return left + (right - left) * std::clamp(a / (1.08 * most_a), 0.0, 1.0);
    };
    const double top = m_look.px(22);
    double y = top;
    std::string last;
    for (const SurveyLane& draw : m_view.lanes) {
        const QRectF box(0, y, left - m_look.px(8), m_look.px(lane));
        if (draw.state != last)
            paintText(painter, box.adjusted(0, 0, -m_look.px(60), 0), qs(draw.state), m_look.font(13, true),
                      c.ink);
        last = draw.state;
        paintText(painter, box, qs(draw.rail), m_look.font(13), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
        const QRectF bar(x(draw.least_a), y + m_look.px(6), std::max(2.0, x(draw.peak_a) - x(draw.least_a)),
                         m_look.px(12));
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.ribbon);
        painter.drawRect(bar);
        painter.setPen(QPen(c.measured, 2.4));
        painter.drawLine(QPointF(x(draw.usual_a), y + m_look.px(4)),
                         QPointF(x(draw.usual_a), y + m_look.px(20)));
        paintText(painter, QRectF(right + m_look.px(6), y, m_look.px(84), m_look.px(lane)), amps(draw.peak_a),
                  m_look.font(13), c.measured, Qt::AlignRight | Qt::AlignVCenter);
        y += m_look.px(lane);
    }
    const RailSurvey& rules = m_view.result->rails.front();
    const auto line = [&](double a, const QString& text, bool above) {
        painter.setPen(QPen(c.planned, 1.4, Qt::DashLine));
        painter.drawLine(QPointF(x(a), top - m_look.px(2)), QPointF(x(a), y));
        const double wide = m_look.px(150);
        paintText(painter, QRectF(above ? x(a) + 3 : x(a) - wide - 3, 0, wide, m_look.px(20)), text,
                  m_look.font(13, true), c.planned,
                  (above ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    };
    line(rules.continuous_a, tr("%1 for good %2").arg(qs(first), amps(rules.continuous_a)), false);
    if (rules.peak_a > rules.continuous_a)
        line(rules.peak_a, tr("peak %1").arg(amps(rules.peak_a)), true);
}

SurveyTab::SurveyTab(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_sentence(new Paragraph)
    , m_picture(new SurveyPicture(look))
    , m_power(caption({}))
    , m_take(new QPushButton(tr("Take it as the need")))
    , m_imported(new QLabel)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_sentence);
    column->addWidget(m_picture);
    column->addWidget(m_power);
    column->addWidget(new JobTable(drawsSpec(), session, look));
    auto* foot = new QHBoxLayout;
    m_take->setObjectName(u"takeSurvey"_s);
    foot->addWidget(m_take);
    auto* import = new QPushButton(tr("Recording from CSV…"));
    foot->addWidget(import);
    m_imported->setProperty("role", u"problem"_s);
    foot->addWidget(m_imported, 1);
    foot->addStretch();
    column->addLayout(foot);
    column->addStretch();
    connect(m_take, &QPushButton::clicked, this,
            [this] { m_session.edit(tr("the need as measured"), [](Job& job) { takeSurvey(job); }); });
    connect(import, &QPushButton::clicked, this, [this] {
        const QString path =
            QFileDialog::getOpenFileName(this, tr("Recorded current"), {}, tr("CSV (*.csv *.txt)"));
        if (!path.isEmpty())
            m_imported->setText(importCsv(path));
    });
    refreshWhileVisible(*this, session, look, [this] { refresh(); });
}

/// The state is called as the file is; of the first rail, both can be changed in the table.
QString SurveyTab::importCsv(const QString& path)
{
    try {
        const auto read = readDrawCsv(readFile(path).toStdString());
        if (!read)
            return qs(read.problem().message);
        m_session.edit(tr("recorded current"), [&](Job& job) {
            StateDraw draw = *read;
            draw.state = QFileInfo(path).completeBaseName().toStdString();
            draw.rail = job.found.rails.front().name;
            putDraw(job, std::move(draw));
        });
    } catch (const StoreError& error) {
        return QString::fromUtf8(error.what());
    }
    return {};
}

void SurveyTab::refresh()
{
    const SurveyView view = surveyView(m_session.job());
    m_sentence->setText(u"<b>%1</b>"_s.arg(qs(view.sentence).toHtmlEscaped()));
    m_picture->show(view);
    m_take->setEnabled(view.result && view.result->rails.front().continuous_a > 0);
    QString power;
    if (view.result)
        power =
            tr("all rails together %1 for good, ruled by %2; %3 at the peak; with a quarter to spare look "
               "for %4")
                .arg(watts(view.result->power.continuous_w), qs(view.result->power.ruled_by.continuous),
                     watts(view.result->power.peak_w), watts(view.result->power.wanted_w));
    m_power->setText(power);
    m_power->setVisible(!power.isEmpty());
}

} // namespace offshoot::ui
