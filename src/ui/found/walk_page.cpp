#include "ui/found/walk_page.h"

#include "store/job_store.h"
#include "ui/fields/paragraph.h"
#include "ui/found/photos_page.h"
#include "ui/found/walk_pictures.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"

#include <QCheckBox>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

WalkStrip::WalkStrip(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("The parts along the energy"));
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

QSize WalkStrip::sizeHint() const { return {m_look.px(400), m_look.px(30)}; }

void WalkStrip::show(const std::vector<WalkStop>& stops, std::size_t current)
{
    m_stops = stops;
    m_current = current;
    setAccessibleDescription(m_current < m_stops.size() ? qs(m_stops[m_current].name) : QString());
    update();
}

double WalkStrip::x(std::size_t stop) const
{
    const double edge = m_look.px(14);
    const double steps = std::max<double>(1, static_cast<double>(m_stops.size()) - 1);
    return edge + (width() - 2 * edge) * static_cast<double>(stop) / steps;
}

void WalkStrip::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const double y = height() / 2.0;
    if (m_stops.empty())
        return;
    painter.setPen(QPen(c.ribbon, m_look.px(6)));
    painter.drawLine(QPointF(x(0), y), QPointF(x(m_stops.size() - 1), y));
    for (std::size_t i = 0; i < m_stops.size(); ++i) {
        const bool open = m_stops[i].open();
        const double radius = m_look.px(m_stops[i].matters() ? 8 : 6);
        painter.setPen(QPen(m_stops[i].matters() ? c.tight
                            : open               ? c.softInk
                                                 : c.planned,
                            1.6, open ? Qt::DashLine : Qt::SolidLine));
        painter.setBrush(open ? c.sheet : c.planned);
        painter.drawEllipse(QPointF(x(i), y), radius, radius);
        if (i != m_current)
            continue;
        painter.setPen(QPen(hasFocus() ? c.planned : c.ink, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(QPointF(x(i), y), m_look.px(12), m_look.px(12));
    }
}

void WalkStrip::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t i = 0; i < m_stops.size(); ++i)
        if (std::abs(event->position().x() - x(i)) <= m_look.px(12))
            Q_EMIT chosen(static_cast<int>(i));
}

void WalkStrip::keyPressEvent(QKeyEvent* event)
{
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0)
        return QWidget::keyPressEvent(event);
    const int stop = static_cast<int>(m_current) + step;
    if (stop >= 0 && stop < static_cast<int>(m_stops.size()))
        Q_EMIT chosen(stop);
}

class WalkPage::PartPicture : public QWidget
{
public:
    explicit PartPicture(Look& look)
        : m_look(look)
    {
        sizedWith(*this, look, [this, &look] { setFixedHeight(look.px(170)); });
    }
    void show(std::optional<BoardPart> part)
    {
        m_part = part;
        update();
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override
    {
        QPainter painter(this);
        if (m_part)
            paintBoardPart(painter, rect(), *m_part, m_look);
    }

private:
    Look& m_look;
    std::optional<BoardPart> m_part;
};

WalkPage::WalkPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_course(session)
    , m_summary(new Paragraph)
    , m_barred(new Paragraph)
    , m_neverPowered(new QCheckBox(tr("It never had power: new, or just built")))
    , m_strip(new WalkStrip(look))
    , m_picture(new PartPicture(look))
    , m_name(new QLabel)
    , m_where(caption({}))
    , m_figures(richText())
    , m_line(new QLineEdit)
    , m_echo(caption({}))
    , m_next(new QPushButton(tr("Enter: on")))
    , m_laterButton(new QPushButton(tr("Esc: later")))
    , m_pins(new PinPicture(look))
{
    auto* holder = new QWidget;
    auto* layout = new QVBoxLayout(holder);
    layout->setContentsMargins(0, look.px(8), look.px(8), 0);
    layout->setSpacing(look.px(8));
    m_summary->setObjectName(u"walkSummary"_s);
    m_barred->setProperty("role", u"problem"_s);
    layout->addWidget(m_summary);
    layout->addWidget(m_strip);
    layout->addWidget(m_barred);
    layout->addWidget(m_neverPowered);
    auto* row = new QHBoxLayout;
    row->setSpacing(look.px(20));
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture);
    left->addWidget(m_where);
    left->addWidget(photograph(), 1);
    left->addStretch();
    row->addLayout(left, 4);
    row->addWidget(reading(), 6);
    layout->addLayout(row, 1);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scrolling(holder));
    connect(m_strip, &WalkStrip::chosen, this, [this](int stop) {
        m_course.goTo(static_cast<std::size_t>(stop));
        moved();
    });
    connect(m_neverPowered, &QCheckBox::toggled, this, &WalkPage::refresh);
    refreshWhileVisible(*this, session, look, [this] { refresh(); });
}

QWidget* WalkPage::reading()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    m_name->setProperty("role", u"title"_s);
    m_name->setObjectName(u"walkPart"_s);
    column->addWidget(m_name);
    column->addWidget(m_figures);
    m_line->setObjectName(u"walkLine"_s);
    m_line->setAccessibleName(tr("What it says"));
    m_line->installEventFilter(this);
    column->addWidget(m_line);
    column->addWidget(m_echo);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_next);
    buttons->addWidget(m_laterButton);
    buttons->addStretch();
    column->addLayout(buttons);
    column->addStretch();
    connect(m_line, &QLineEdit::textEdited, this, &WalkPage::echo);
    connect(m_line, &QLineEdit::returnPressed, this, &WalkPage::take);
    connect(m_next, &QPushButton::clicked, this, &WalkPage::take);
    connect(m_laterButton, &QPushButton::clicked, this, &WalkPage::later);
    return box;
}

QWidget* WalkPage::photograph()
{
    m_photoBox = new QWidget;
    auto* column = new QVBoxLayout(m_photoBox);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_pins, 1);
    column->addWidget(caption(tr("a click on the photograph pins this part there")));
    connect(m_pins, &PinPicture::placed, this, [this](double x, double y) {
        const WalkStop* stop = m_course.current();
        if (stop == nullptr)
            return;
        m_session.edit(tr("a pin"), [&](Job& job) {
            job.pins.push_back({.photo = m_photo, .x = x, .y = y, .name = stop->name});
        });
    });
    return m_photoBox;
}

bool WalkPage::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_line && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        later();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void WalkPage::echo()
{
    const WalkCourse::Echo echo = m_course.echo(m_line->text());
    const Colours& c = m_look.colours();
    m_echo->setText(u"<span style='color:%1'>%2</span>"_s.arg((echo.fine ? c.softInk : c.breaks).name(),
                                                              echo.text.toHtmlEscaped()));
}

void WalkPage::take()
{
    if (!m_line->isEnabled())
        return;
    if (!m_course.take(m_line->text()))
        return echo(); // what was typed stays, with the message
    moved();
}

void WalkPage::later()
{
    m_course.later();
    moved();
}

void WalkPage::moved()
{
    m_line->clear();
    m_echo->clear();
    showStop();
    m_line->setFocus();
}

void WalkPage::showStop()
{
    const WalkStop* stop = m_course.current();
    m_strip->show(m_course.view().stops, m_course.at());
    m_picture->show(stop != nullptr ? std::optional(stop->place.part) : std::nullopt);
    m_name->setText(
        stop != nullptr
            ? tr("%1 · %2 of %3").arg(qs(stop->name)).arg(m_course.at() + 1).arg(m_course.view().stops.size())
            : QString());
    m_where->setText(stop != nullptr ? qs(infoOf(stop->place.part).where) : QString());
    QString html;
    QStringList hints;
    const Colours& c = m_look.colours();
    if (stop != nullptr && mayBeAbsent(stop->place.part))
        hints << tr("none, or");
    if (stop != nullptr && stop->absent)
        html = u"<p style='margin:0 0 8px 0'>%1</p>"_s.arg(tr("There is none."));
    else if (stop != nullptr)
        for (const WalkFigure& figure : stop->figures) {
            const QColor& colour = figure.value                      ? c.found
                                   : figure.decides || figure.blocks ? c.tight
                                                                     : c.softInk;
            html += u"<p style='margin:0 0 8px 0'><b>%1</b> &nbsp;<span style='color:%2'>%3</span>"_s.arg(
                qs(figure.figure->label).toHtmlEscaped(), c.found.name(),
                figure.value ? qs(figure.shown).toHtmlEscaped() : tr("not read"));
            if (!figure.value)
                html += u"<br><span style='color:%1'>%2</span>"_s.arg(colour.name(),
                                                                      qs(figure.worth).toHtmlEscaped());
            html += u"</p>"_s;
            hints << qs(figure.figure->hint);
        }
    m_figures->setText(html);
    m_line->setPlaceholderText(hints.join(u' '));
    showPhoto();
}

/// One on which this part is pinned, else the latest.
void WalkPage::showPhoto()
{
    const Job& job = m_session.job();
    const auto all = photosOf(job);
    m_photoBox->setVisible(!all.empty());
    if (all.empty())
        return;
    m_photo = all.back();
    if (const WalkStop* stop = m_course.current())
        if (const auto pin = std::ranges::find(job.pins, stop->name, &PhotoPin::name); pin != job.pins.end())
            m_photo = pin->photo;
    if (m_imageOf != m_photo || m_image.isNull()) {
        const QDir folder(QFileInfo(m_session.store().path()).path());
        m_image = QImage(folder.absoluteFilePath(qs(m_photo)));
        m_imageOf = m_photo;
    }
    m_pins->show(m_image, pinsOn(job, m_photo), tr("%1 is gone.").arg(qs(m_photo)));
}

void WalkPage::refresh()
{
    const Job& job = m_session.job();
    m_course.sayNeverPowered(m_neverPowered->isChecked());
    m_course.refresh();
    m_summary->setText(u"<span style='font-size:%1px'><b>%2</b></span>"_s.arg(m_look.px(17))
                           .arg(qs(m_course.view().summary).toHtmlEscaped()));
    const QString barred = m_course.barred();
    m_barred->setText(barred);
    m_barred->setVisible(!barred.isEmpty());
    m_neverPowered->setVisible(mayBeNeverPowered(job, m_session.evaluation()));
    for (QWidget* widget :
         {static_cast<QWidget*>(m_line), static_cast<QWidget*>(m_next), static_cast<QWidget*>(m_laterButton)})
        widget->setEnabled(barred.isEmpty());
    showStop();
}

} // namespace offshoot::ui
