#include "ui/trim/trim_page.h"

#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString railLabel(const TrimRail& rail)
{
    return rail.load.empty() ? qs(rail.name) : qs(rail.name + " " + rail.load);
}

constexpr double settingPercent = 100;

} // namespace

/// The picture's axes, and the line of the trimmer on them.
class TrimPicture::Plot
{
public:
    Plot(const TrimPicture& picture, const Side& across, const Side& up)
        : m_across(across)
        , m_up(up)
        , m_axes(make(picture, across, up))
    {}

    const Axes& axes() const { return m_axes; }
    QPointF at(double scale) const { return m_axes.at(scale * m_across.v, scale * m_up.v); }
    /// The scale of the point of the line nearest to a pixel.
    double scaleAt(QPointF pixel) const
    {
        const QPointF zero = at(0);
        const QPointF one = at(1);
        const QPointF line = one - zero;
        return QPointF::dotProduct(pixel - zero, line) / QPointF::dotProduct(line, line);
    }

private:
    static Axes make(const TrimPicture& picture, const Side& across, const Side& up)
    {
        const Look& look = picture.m_look;
        const auto range = [&](const Side& side) {
            AxisRange r{std::min(side.min_v, side.v), std::max(side.max_v, side.v)};
            if (picture.m_view.result && picture.m_view.result->best_scale)
                r.include(side.v * *picture.m_view.result->best_scale);
            r.include(side.v * picture.m_scale);
            r.widen(0.35, std::abs(side.v) * 0.02);
            return r;
        };
        const QRectF box =
            QRectF(picture.rect()).adjusted(look.px(64), look.px(30), -look.px(18), -look.px(46));
        return {box, range(across), range(up)};
    }

    const Side& m_across;
    const Side& m_up;
    Axes m_axes;
};

TrimPicture::TrimPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"trimPicture"_s);
    setAccessibleName(tr("Rail against rail with the trimmer's line"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(240), look.px(150)); });
    setCursor(Qt::PointingHandCursor);
}

void TrimPicture::show(const TrimView& view, std::size_t across, std::size_t up, double scale)
{
    m_view = view;
    m_across = across;
    m_up = up;
    m_scale = scale;
    update();
}

TrimPicture::Side TrimPicture::side(std::size_t rail) const
{
    const TrimRail& r = m_view.input.rails.at(rail);
    return {tr("%1, V").arg(railLabel(r)), r.v, r.min_v, r.max_v};
}

double TrimPicture::scaleAt(QPointF position) const
{
    const Side across = side(m_across);
    Side up = side(m_up);
    if (m_across == m_up)
        up = {{}, settingPercent, settingPercent, settingPercent};
    double scale = Plot(*this, across, up).scaleAt(position);
    if (const auto& travel = m_view.input.travel)
        scale = std::clamp(scale, travel->min_scale, travel->max_scale);
    constexpr double step = 1000;
    return std::max(1 / step, std::round(scale * step) / step);
}

void TrimPicture::mousePressEvent(QMouseEvent* event)
{
    if (m_view.result && event->button() == Qt::LeftButton)
        Q_EMIT dragged(scaleAt(event->position()));
}

void TrimPicture::mouseMoveEvent(QMouseEvent* event)
{
    if (m_view.result && event->buttons().testFlag(Qt::LeftButton))
        Q_EMIT dragged(scaleAt(event->position()));
}

void TrimPicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (m_view.result && event->button() == Qt::LeftButton)
        Q_EMIT released(scaleAt(event->position()));
}

void TrimPicture::keyPressEvent(QKeyEvent* event)
{
    constexpr double step = 0.001;
    const bool forward = event->key() == Qt::Key_Right || event->key() == Qt::Key_Up;
    const bool back = event->key() == Qt::Key_Left || event->key() == Qt::Key_Down;
    if (!m_view.result)
        return QWidget::keyPressEvent(event);
    if (forward || back)
        Q_EMIT dragged(m_scale + (forward ? step : -step));
    else if (event->key() == Qt::Key_Home && m_view.result->best_scale)
        Q_EMIT dragged(*m_view.result->best_scale);
    else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        Q_EMIT released(m_scale);
    else
        QWidget::keyPressEvent(event);
}

void TrimPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_view.result) {
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    }
    const Side across = side(m_across);
    Side up = side(m_up);
    const bool single = m_across == m_up;
    if (single)
        up = {tr("setting, % of where it stands"), settingPercent, settingPercent, settingPercent};
    const Plot plot(*this, across, up);
    const Axes& axes = plot.axes();
    painter.save();
    painter.setClipRect(axes.box());
    // Where both rails are in their windows.
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 56 : 40);
    const double top = single ? axes.box().top() : axes.y(up.max_v);
    const double bottom = single ? axes.box().bottom() : axes.y(up.min_v);
    const QRectF window(axes.x(across.min_v), top, axes.x(across.max_v) - axes.x(across.min_v), bottom - top);
    painter.fillRect(window, band);
    painter.setPen(QPen(c.fits, 1.4));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(window);
    // The line of the trimmer, its travel, and the stretch that puts every rail in its window.
    const auto stretch = [&](double from, double to, const QPen& pen) {
        painter.setPen(pen);
        painter.drawLine(plot.at(from), plot.at(to));
    };
    stretch(0, 3, QPen(c.softInk, 1, Qt::DotLine));
    if (const auto& travel = m_view.input.travel) {
        stretch(travel->min_scale, travel->max_scale,
                QPen(c.ribbon, m_look.px(8), Qt::SolidLine, Qt::RoundCap));
        stretch(travel->min_scale, travel->max_scale, QPen(c.ink, 1.2));
    }
    if (const auto& good = m_view.result->interval)
        stretch(good->min_scale, good->max_scale, QPen(c.fits, m_look.px(4), Qt::SolidLine, Qt::RoundCap));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.measured);
    painter.drawEllipse(plot.at(1), m_look.px(5), m_look.px(5));
    if (m_view.result->best_scale) {
        painter.setPen(QPen(c.planned, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(plot.at(*m_view.result->best_scale), m_look.px(9), m_look.px(9));
    }
    painter.setPen(QPen(c.sheet, 1.4));
    painter.setBrush(c.planned);
    painter.drawEllipse(plot.at(m_scale), m_look.px(6), m_look.px(6));
    painter.restore();
    axes.paint(painter, m_look, across.label, up.label);
    if (hasFocus()) {
        painter.setPen(QPen(c.planned, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    }
}

TrimPage::TrimPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new TrimPicture(look))
    , m_legend(new QLabel)
{
    m_legend->setAlignment(Qt::AlignCenter);
    auto* left = new QVBoxLayout;
    left->setSpacing(0);
    left->addWidget(m_picture, 1);
    left->addWidget(m_legend);
    body().addLayout(left, 3);
    body().addWidget(scrolling(side()), 2);
    connect(m_picture, &TrimPicture::dragged, this, &TrimPage::preview);
    connect(m_picture, &TrimPicture::released, this, &TrimPage::plan);
    follow();
}

QWidget* TrimPage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* form = new QFormLayout;
    m_trimmer = new QComboBox;
    m_trimmer->setAccessibleName(tr("Trimmer"));
    m_across = new QComboBox;
    m_across->setAccessibleName(tr("Across"));
    m_up = new QComboBox;
    m_up->setAccessibleName(tr("Up"));
    form->addRow(tr("Trimmer"), m_trimmer);
    form->addRow(tr("Across"), m_across);
    form->addRow(tr("Up"), m_up);
    constexpr double mostScale = 3;
    addValueRow(
        *form,
        {.label = tr("Setting"),
         .quantity = Quantity::Voltage,
         .get = [](const Job& j) { return j.plan.trim ? std::optional(j.plan.trim->scale) : std::nullopt; },
         .set =
             [this](Job& j, std::optional<double> v) {
                 j.plan.trim = v ? std::optional(planAt(*v)) : std::nullopt;
             },
         .most = mostScale,
         .percent = true,
         .hint = tr("101.5 %")},
        m_session);
    layout->addLayout(form);
    m_table = new QLabel;
    m_table->setTextFormat(Qt::RichText);
    m_table->setAlignment(Qt::AlignTop);
    QScrollArea* area = scrolling(m_table);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(area, 1);
    m_next = new Paragraph;
    layout->addWidget(m_next);
    layout->addWidget(caption(tr("drag, or ← → · Home best · Enter plan it")));
    for (QComboBox* combo : {m_trimmer, m_across, m_up})
        connect(combo, &QComboBox::activated, this, [this] { refresh(); });
    return box;
}

void TrimPage::fillRails()
{
    const auto fill = [](QComboBox& combo, const QStringList& names, int usual) {
        QStringList present;
        for (int i = 0; i < combo.count(); ++i)
            present << combo.itemText(i);
        if (present == names)
            return;
        combo.clear();
        combo.addItems(names);
        combo.setCurrentIndex(std::min<int>(usual, static_cast<int>(names.size()) - 1));
    };
    QStringList trimmers;
    for (const Trimmer& trimmer : m_session.job().found.trimmers)
        trimmers << qs(trimmer.name);
    fill(*m_trimmer, trimmers.isEmpty() ? QStringList{tr("trimmer")} : trimmers, 0);
    m_view = trimView(m_session.job(), static_cast<std::size_t>(std::max(0, m_trimmer->currentIndex())));
    QStringList rails;
    for (const TrimRail& rail : m_view.input.rails)
        rails << railLabel(rail);
    fill(*m_across, rails, 0);
    // Two different rails say more than one under two loads.
    const auto& all = m_view.input.rails;
    const auto other =
        std::ranges::find_if(all, [&](const TrimRail& r) { return r.name != all.front().name; });
    fill(*m_up, rails, other == all.end() ? 1 : static_cast<int>(other - all.begin()));
}

void TrimPage::refresh()
{
    fillRails();
    const auto& trim = m_session.job().plan.trim;
    const double scale = trim && trim->trimmer == m_view.trimmer ? trim->scale : 1;
    m_picture->show(m_view, static_cast<std::size_t>(std::max(0, m_across->currentIndex())),
                    static_cast<std::size_t>(std::max(0, m_up->currentIndex())), scale);
    setSentence(m_view.result ? qs(m_view.sentence) : tr("One trimmer, several rails"));
    m_next->setText(qs(m_view.next));
    const Colours& c = m_look.colours();
    const auto key = [](const QColor& colour, const QString& mark, const QString& meaning) {
        return u"<span style='color:%1'>%2 %3</span>"_s.arg(colour.name(), mark, meaning);
    };
    m_legend->setText(m_view.result ? key(c.measured, u"●"_s, tr("read")) + u" &nbsp; "_s +
                                          key(c.planned, u"●"_s, tr("set")) + u" &nbsp; "_s +
                                          key(c.planned, u"○"_s, tr("best")) + u" &nbsp; "_s +
                                          key(c.fits, u"━"_s, tr("all in their windows")) + u" &nbsp; "_s +
                                          key(c.ink, u"─"_s, tr("travel"))
                                    : QString());
    QString table;
    if (m_view.result) {
        table =
            u"<table cellspacing='0' cellpadding='2'><tr><td></td><td style='color:%1'>%2</td><td><b style='color:%3'>%4</b></td><td>%5</td></tr>"_s
                .arg(c.measured.name(), tr("read"), c.planned.name(), tr("set"), tr("window"));
        const auto set = railsAt(m_view.input, scale);
        for (std::size_t i = 0; i < set.size(); ++i) {
            const TrimRail& rail = m_view.input.rails[i];
            const bool inside = set[i].in_window;
            table +=
                u"<tr><td>%1</td><td style='color:%2'>%3</td><td><b style='color:%4'>%5 %6</b></td><td>%7</td></tr>"_s
                    .arg(railLabel(rail).toHtmlEscaped(), c.measured.name(), qs(fixed(rail.v, 2)),
                         (inside ? c.fits : c.breaks).name(), inside ? u"●"_s : u"▼"_s,
                         qs(fixed(set[i].v, 2)),
                         tr("%1 to %2").arg(qs(significant(rail.min_v, 4)), qs(significant(rail.max_v, 4))));
        }
        table += u"</table>"_s;
    }
    m_table->setText(table);
}

TrimPlan TrimPage::planAt(double scale) const { return {.trimmer = m_view.trimmer, .scale = scale}; }

void TrimPage::preview(double scale)
{
    m_session.preview([&](Job& job) { job.plan.trim = planAt(scale); });
}

void TrimPage::plan(double scale)
{
    m_session.edit(tr("trim to %1 %").arg(qs(significant(scale * 100, 4))),
                   [&](Job& job) { job.plan.trim = planAt(scale); });
}

} // namespace offshoot::ui
