#include "ui/need/aim_panel.h"

#include "ui/fields/picture_button.h"
#include "ui/paint/sketch.h"
#include "ui/plan/workspace_page.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>
#include <array>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

class AimSketch
{
public:
    explicit AimSketch(Sketch& sketch)
        : m_sketch(sketch)
        , m_painter(sketch.painter())
        , m_colours(sketch.colours())
    {}
    void draw(Aim aim)
    {
        using Draws = void (AimSketch::*)();
        static constexpr std::array<Draws, Words<Aim>::list.size()> all{
            &AimSketch::voltage, &AimSketch::mains,   &AimSketch::cure, &AimSketch::several,
            &AimSketch::farEnd,  &AimSketch::replace, &AimSketch::bench};
        (this->*all.at(static_cast<std::size_t>(aim)))();
    }

private:
    void pen(const QColor& colour, double width = 1.6, Qt::PenStyle style = Qt::SolidLine)
    {
        m_painter.setPen(QPen(colour, width, style));
        m_painter.setBrush(Qt::NoBrush);
    }
    void line(double x1, double y1, double x2, double y2) { m_sketch.line(x1, y1, x2, y2); }
    void arrow(double x1, double x2, double y)
    {
        line(x1, y, x2, y);
        const double back = x2 > x1 ? -6 : 6;
        line(x2, y, x2 + back, y - 4);
        line(x2, y, x2 + back, y + 4);
    }
    void unit(double x, double y, double wide, double high, const QColor& fill)
    {
        m_painter.setBrush(fill);
        m_sketch.box(x, y, wide, high, 3);
        m_painter.setBrush(Qt::NoBrush);
    }
    void wave(double x, double y, double high, double length, int count)
    {
        QPainterPath path(QPointF(x, y));
        for (int i = 0; i < count; ++i) {
            const double up = i % 2 == 0 ? -high : high;
            path.quadTo(x + length * (i + 0.5), y + 2 * up, x + length * (i + 1), y);
        }
        m_painter.drawPath(path);
    }

    void voltage()
    {
        pen(m_colours.ink);
        line(10, 46, 110, 46);
        for (double x = 18; x <= 104; x += 14)
            line(x, 46, x, 52);
        pen(m_colours.found, 2.4);
        line(32, 18, 32, 46);
        pen(m_colours.planned, 2.4);
        line(88, 18, 88, 46);
        arrow(38, 82, 28);
    }
    void mains()
    {
        pen(m_colours.ink);
        unit(66, 14, 44, 38, m_colours.paper);
        wave(10, 32, 12, 10, 4);
        arrow(50, 64, 32);
    }
    void cure()
    {
        pen(m_colours.breaks, 2);
        QPainterPath path(QPointF(8, 40));
        for (const QPointF at :
             {QPointF(16, 18), QPointF(24, 52), QPointF(32, 18), QPointF(40, 52), QPointF(48, 34)})
            path.lineTo(at);
        m_painter.drawPath(path);
        pen(m_colours.planned, 2);
        arrow(54, 66, 34);
        line(74, 34, 112, 34);
    }
    void several()
    {
        pen(m_colours.ink);
        unit(12, 6, 40, 22, m_colours.paper);
        unit(12, 36, 40, 22, m_colours.paper);
        pen(m_colours.planned, 2.4);
        line(52, 17, 74, 17);
        line(52, 47, 74, 47);
        line(74, 17, 74, 47);
        arrow(74, 108, 32);
    }
    void farEnd()
    {
        pen(m_colours.ink);
        unit(6, 20, 26, 26, m_colours.paper);
        m_painter.drawEllipse(QPointF(100, 33), 12, 12);
        line(92, 25, 108, 41);
        line(108, 25, 92, 41);
        pen(m_colours.planned, 2.4);
        line(32, 28, 88, 28);
        line(32, 38, 88, 38);
    }
    void replace()
    {
        pen(m_colours.softInk, 1.4, Qt::DashLine);
        m_painter.drawRoundedRect(QRectF(8, 16, 40, 32), 3, 3);
        pen(m_colours.planned, 2);
        unit(72, 10, 40, 44, m_colours.selection);
        arrow(66, 52, 32);
    }
    void bench()
    {
        pen(m_colours.ink);
        unit(14, 8, 92, 48, m_colours.paper);
        m_painter.drawRect(QRectF(24, 16, 34, 16));
        for (const double x : {32.0, 50.0}) {
            m_painter.drawEllipse(QPointF(x, 44), 5, 5);
            line(x, 44, x + 3, 40);
        }
        m_painter.setBrush(m_colours.breaks);
        m_painter.drawEllipse(QPointF(78, 40), 6, 6);
        m_painter.setBrush(m_colours.ink);
        m_painter.drawEllipse(QPointF(96, 40), 6, 6);
    }

    Sketch& m_sketch;
    QPainter& m_painter;
    const Colours& m_colours;
};

} // namespace

void paintAim(QPainter& painter, const QRectF& box, Aim aim, const Look& look)
{
    Sketch sketch(painter, box, look);
    AimSketch(sketch).draw(aim);
}

AimPanel::AimPanel(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(look.px(10));
    auto* title = new QLabel(tr("What is to be done?"));
    title->setProperty("role", u"title"_s);
    layout->addWidget(title);
    layout->addWidget(
        caption(tr("It leads the eye and locks nothing: it can be changed in Need at any time.")));
    auto* grid = new QGridLayout;
    grid->setSpacing(look.px(8));
    constexpr int across = 4;
    for (int i = 0; i < static_cast<int>(Words<Aim>::list.size()); ++i) {
        const auto aim = static_cast<Aim>(i);
        auto* button = new PictureButton(
            qs(aimWords(aim)), 64, look,
            [aim, &look](QPainter& painter, const QRectF& box) { paintAim(painter, box, aim, look); });
        button->setNote(qs(aimNote(aim)));
        button->setObjectName(u"aim_"_s + qs(word(aim)));
        connect(button, &QPushButton::clicked, this, [this, aim, &session] {
            session.edit(tr("what is to be done"), [aim](Job& job) { job.need.aim = aim; });
            Q_EMIT done();
        });
        grid->addWidget(button, i / across, i % across);
    }
    layout->addLayout(grid);
    auto* later = new QPushButton(tr("Something else: go on without"));
    later->setObjectName(u"aimLater"_s);
    connect(later, &QPushButton::clicked, this, &AimPanel::done);
    layout->addWidget(later, 0, Qt::AlignLeft);
    layout->addStretch();
}

} // namespace offshoot::ui
