#include "ui/paint/wiring.h"

#include "ui/paint/marks.h"

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double leastColumn = 110;
constexpr double mostColumn = 150;
constexpr double mostLevel = 150;
constexpr double labelHeight = 18;
constexpr double listRow = 34; ///< of wires by themselves

QString wordsOf(const ConnectedPart& part)
{
    const QString name = qs(part.name);
    return part.fate == PartFate::Added      ? part.name.starts_with("added")
                                                   ? WiringPicture::tr("new")
                                                   : WiringPicture::tr("new: %1").arg(name)
                : part.fate == PartFate::TakenOut ? WiringPicture::tr("out: %1").arg(name)
                                             : name;
}

/// What a column needs so that no name runs into the next one's part.
double columnFor(const Connections& connections, const Look& look)
{
    const QFontMetricsF metrics(look.font(13));
    double widest = 0;
    for (const ConnectedPart& part : connections.parts)
        widest = std::max(widest, metrics.horizontalAdvance(wordsOf(part)));
    return std::max<double>(look.px(leastColumn), widest + look.px(36));
}

class WiringPainter
{
public:
    WiringPainter(QPainter& painter, const QRectF& area, const Connections& connections, const Look& look,
                  const NodeWords& words)
        : m_painter(painter)
        , m_area(area)
        , m_connections(connections)
        , m_look(look)
        , m_words(words)
        , m_drawing(wiringDrawing(connections))
    {
        const double levels = std::max<double>(1, static_cast<double>(m_drawing.nodes.size()) - 1);
        m_column = std::min<double>(std::max<double>(look.px(mostColumn), columnFor(connections, look)),
                                    (area.width() - look.px(22)) / std::max(1, m_drawing.columns));
        m_level = std::min<double>(look.px(mostLevel), (area.height() - look.px(labelHeight + 10)) / levels);
    }

    void run()
    {
        m_painter.save();
        m_painter.setRenderHint(QPainter::Antialiasing);
        if (m_connections.isList()) {
            paintRows();
            return m_painter.restore();
        }
        for (const DrawnNode& node : m_drawing.nodes)
            paintNode(node);
        for (const DrawnPart& part : m_drawing.parts)
            paintPart(part);
        m_painter.restore();
    }

private:
    double x(int column) const { return m_area.left() + m_look.px(22) + m_column * column; }
    double y(int level) const { return m_area.top() + m_look.px(labelHeight + 2) + m_level * level; }

    /// One wire below the other, in the colour that its name says: where it comes from, where it goes.
    void paintRows()
    {
        const Colours& c = m_look.colours();
        const double row = m_look.px(listRow);
        const double begins = m_area.left() + m_area.width() * 0.36;
        const double ends = m_area.left() + m_area.width() * 0.66;
        double y = m_area.top() + row;
        for (const ConnectedPart& part : m_connections.parts) {
            const double label = m_look.px(labelHeight);
            paintText(m_painter, QRectF(m_area.left(), y - label / 2, begins - m_area.left() - 6, label),
                      qs(part.from), m_look.font(13), c.softInk);
            paintLead(m_painter, {begins, y}, {ends, y}, coloursIn(qs(part.name)), m_look);
            paintText(m_painter, QRectF(begins, y - label - 3, ends - begins, label), wordsOf(part),
                      m_look.caption(), c.softInk, Qt::AlignCenter);
            paintText(m_painter, QRectF(ends + 8, y - label / 2, m_area.right() - ends - 8, label),
                      qs(part.to), m_look.font(13, true), c.planned);
            y += row;
        }
    }

    void paintNode(const DrawnNode& node)
    {
        const Colours& c = m_look.colours();
        const double left = x(std::max(0, node.first)) - m_look.px(16);
        const double right = x(std::max(0, node.last)) + m_look.px(16);
        m_painter.setPen(QPen(c.ink, 1.6));
        m_painter.drawLine(QPointF(left, y(node.level)), QPointF(right, y(node.level)));
        const auto said = m_words.find(node.name);
        // Beside the part that goes on upwards, not over it.
        const double words = x(std::max(0, node.first)) + m_look.px(8);
        const QRectF label(words, y(node.level) - m_look.px(labelHeight), m_area.right() - words,
                           m_look.px(labelHeight));
        paintText(m_painter, label, said == m_words.end() ? qs(node.name) : said->second, m_look.font(13),
                  c.softInk);
    }

    void paintPart(const DrawnPart& drawn)
    {
        const Colours& c = m_look.colours();
        const ConnectedPart& part = m_connections.parts[drawn.part];
        const bool added = part.fate == PartFate::Added;
        const bool out = part.fate == PartFate::TakenOut;
        const QColor colour = added ? c.planned : out ? c.softInk : c.ink;
        QPen pen(colour, added ? 2.4 : 1.6);
        if (out)
            pen.setDashPattern({3, 3});
        m_painter.setPen(pen);
        const double at = x(drawn.column);
        const double y1 = y(drawn.upper);
        const double y2 = y(drawn.lower);
        const double middle = (y1 + y2) / 2;
        m_painter.setOpacity(out ? 0.5 : 1);
        const double half = std::min<double>(m_look.px(44), (y2 - y1) * 0.36);
        const bool body =
            part.kind != PartKind::Link && part.kind != PartKind::Wire && part.kind != PartKind::Bond;
        m_painter.drawLine(QPointF(at, y1), QPointF(at, body ? middle - half : y2));
        if (body)
            m_painter.drawLine(QPointF(at, middle + half), QPointF(at, y2));
        m_painter.setBrush(colour);
        for (const double end : {y1, y2})
            m_painter.drawEllipse(QPointF(at, end), 2.6, 2.6);
        m_painter.setBrush(Qt::NoBrush);
        paintBody(part, at, middle, half, drawn.from_above);
        m_painter.setOpacity(1);
        const QString value = qs(Connections::valueText(part));
        const QString name = wordsOf(part);
        const double left = at + m_look.px(body ? 20 : 8);
        const double wide = m_column - (left - at) - m_look.px(2);
        // Not over a line that passes behind a long part.
        double words = middle;
        for (const DrawnNode& node : m_drawing.nodes)
            if (node.level > drawn.upper && node.level < drawn.lower &&
                std::abs(y(node.level) - words) < m_look.px(20))
                words = y(node.level) + m_level * 0.4;
        const QRectF label(left, words - m_look.px(value.isEmpty() ? 9 : 19), wide, m_look.px(18));
        paintText(m_painter, label, name, m_look.font(13), c.softInk);
        if (!value.isEmpty())
            paintText(m_painter, label.translated(0, m_look.px(18)), value, m_look.font(15, true),
                      added ? c.planned : c.found);
    }

    void paintBody(const ConnectedPart& part, double at, double middle, double half, bool fromAbove)
    {
        const Colours& c = m_look.colours();
        const auto line = [&](double ax, double ay, double bx, double by) {
            m_painter.drawLine(QPointF(at + ax, middle + ay), QPointF(at + bx, middle + by));
        };
        const double w = m_look.px(11);
        switch (part.kind) {
        case PartKind::Trimmer:
            m_painter.drawRect(QRectF(at - m_look.px(9), middle - half, m_look.px(18), 2 * half));
            line(-w, half * 0.6, w, -half * 0.6);
            line(w, -half * 0.6, m_look.px(5), -half * 0.6);
            line(w, -half * 0.6, w, m_look.px(6) - half * 0.6);
            break;
        case PartKind::Resistor:
            paintResistor(m_painter, QRectF(at - m_look.px(12), middle - half, m_look.px(24), 2 * half),
                          part.value.value_or(0), part.tolerance.value_or(0.01), m_look,
                          part.fate == PartFate::Added);
            break;
        case PartKind::Capacitor:
            line(0, -half, 0, -m_look.px(4));
            line(-w, -m_look.px(4), w, -m_look.px(4));
            line(-w, m_look.px(4), w, m_look.px(4));
            line(0, m_look.px(4), 0, half);
            break;
        case PartKind::Choke:
        case PartKind::Winding: {
            const double r = half / 4;
            for (int k = 0; k < 4; ++k)
                m_painter.drawEllipse(QPointF(at, middle - half + r * (2 * k + 1)), r, r);
            if (part.kind == PartKind::Winding) {
                m_painter.setBrush(m_painter.pen().color());
                m_painter.drawEllipse(QPointF(at - w, middle + (fromAbove ? -half : half)), 3, 3);
                m_painter.setBrush(Qt::NoBrush);
            }
            break;
        }
        case PartKind::Diode: {
            const double tip = fromAbove ? w : -w;
            line(0, -half, 0, half);
            m_painter.setBrush(m_painter.pen().color());
            m_painter.drawPolygon(QPolygonF{
                {QPointF(at - w, middle - tip), QPointF(at + w, middle - tip), QPointF(at, middle + tip)}});
            m_painter.setBrush(Qt::NoBrush);
            line(-w, tip, w, tip);
            break;
        }
        case PartKind::Source:
            m_painter.drawEllipse(QPointF(at, middle), std::min<double>(half, w * 1.4), half);
            paintText(m_painter, QRectF(at - w, middle + (fromAbove ? -half : 0), 2 * w, half), u"+"_s,
                      m_look.font(13, true), c.ink, Qt::AlignCenter);
            paintText(m_painter, QRectF(at - w, middle + (fromAbove ? 0 : -half), 2 * w, half), u"−"_s,
                      m_look.font(13, true), c.ink, Qt::AlignCenter);
            break;
        case PartKind::Rectifier:
        case PartKind::Load:
            m_painter.drawRoundedRect(QRectF(at - w, middle - half, 2 * w, 2 * half), 4, 4);
            break;
        case PartKind::Link:
        case PartKind::Wire:
        case PartKind::Bond:
            break;
        }
    }

    static QString tr(const char* text) { return WiringPicture::tr(text); }

    QPainter& m_painter;
    QRectF m_area;
    const Connections& m_connections;
    const Look& m_look;
    const NodeWords& m_words;
    WiringDrawing m_drawing;
    double m_column = 0;
    double m_level = 0;
};

} // namespace

void paintWiring(QPainter& painter, const QRectF& area, const Connections& connections, const Look& look,
                 const NodeWords& words)
{
    WiringPainter(painter, area, connections, look, words).run();
}

WiringPicture::WiringPicture(Connections connections, const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    show(std::move(connections));
    sizedWith(*this, look, [this] { setMinimumHeight(WiringPicture::sizeHint().height()); });
}

void WiringPicture::show(Connections connections)
{
    m_connections = std::move(connections);
    m_drawing = wiringDrawing(m_connections);
    setAccessibleName(tr("The wiring: %1").arg(qs(m_connections.sentence)));
    setMinimumHeight(sizeHint().height());
    updateGeometry();
    update();
}

QSize WiringPicture::sizeHint() const
{
    constexpr int level = 78;
    if (m_connections.isList())
        return {m_look.px(360),
                static_cast<int>(m_look.px(listRow) * (static_cast<double>(m_connections.parts.size()) + 1))};
    return {m_look.px(40) +
                static_cast<int>(columnFor(m_connections, m_look)) * std::max(1, m_drawing.columns),
            m_look.px(40 + level * std::max(1, static_cast<int>(m_drawing.nodes.size()) - 1))};
}

void WiringPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    paintWiring(painter, QRectF(rect()), m_connections, m_look);
}

} // namespace offshoot::ui
