#include "ui/paint/text.h"

#include <QCache>
#include <QCoreApplication>
#include <QFontMetricsF>
#include <QTextLayout>

namespace offshoot::ui {

namespace {

/// A text that is set: its glyphs and where they stand.
class SetText
{
public:
    SetText(const QString& text, const QFont& font)
        : m_layout(text, font)
    {
        QTextOption option;
        option.setTextDirection(Qt::LeftToRight); // as the window
        option.setFlags(QTextOption::IncludeTrailingSpaces);
        option.setWrapMode(QTextOption::ManualWrap);
        m_layout.setTextOption(option);
        m_layout.setCacheEnabled(true);
        m_layout.beginLayout();
        QTextLine line = m_layout.createLine();
        constexpr double endless = 0x01000000;
        line.setLineWidth(endless);
        m_layout.endLayout();
        m_advance = line.horizontalAdvance();
        m_size = {line.naturalTextWidth(), line.ascent() + line.descent()};
    }
    double advance() const { return m_advance; }
    void draw(QPainter& painter, const QRectF& box, Qt::Alignment alignment) const
    {
        const double down = alignment & Qt::AlignVCenter ? 0.5 : alignment & Qt::AlignBottom ? 1 : 0;
        const double along = alignment & Qt::AlignHCenter ? 0.5 : alignment & Qt::AlignRight ? 1 : 0;
        const double y = box.y() + down * (box.height() - m_size.height());
        const QRectF bounds(QPointF(box.x() + along * (box.width() - m_size.width()), y), m_size);
        const bool clipped = !box.contains(bounds);
        if (clipped) {
            painter.save();
            painter.setClipRect(box, Qt::IntersectClip);
        }
        m_layout.draw(&painter, {box.x() + along * (box.width() - m_advance), y});
        if (clipped)
            painter.restore();
    }

private:
    QTextLayout m_layout;
    double m_advance = 0;
    QSizeF m_size;
};

QCache<std::pair<QString, QFont>, SetText>& known()
{
    constexpr int most = 2000; // some 300 are seen at a time, of a window with its pictures
    static QCache<std::pair<QString, QFont>, SetText> texts(most);
    return texts;
}

const SetText& setText(const QString& text, const QFont& font)
{
    const std::pair key(text, font);
    if (const SetText* set = known().object(key))
        return *set;
    if (known().isEmpty())
        qAddPostRoutine([] { known().clear(); }); // the fonts go with the application
    auto* set = new SetText(text, font);          // the cache owns it
    known().insert(key, set);
    return *set;
}

} // namespace

int paintText(QPainter& painter, const QRectF& box, const QString& text, const QFont& font,
              const QColor& colour, Qt::Alignment alignment, Qt::TextElideMode elide)
{
    painter.setFont(font);
    painter.setPen(colour);
    if (text.isEmpty())
        return 0;
    const double room = box.width() + 0.5;
    const SetText* set = &setText(text, font);
    if (set->advance() > room) {
        const QString shown = QFontMetricsF(font).elidedText(text, elide, room);
        if (shown.isEmpty())
            return 0;
        set = &setText(shown, font);
    }
    set->draw(painter, box, alignment);
    return static_cast<int>(set->advance());
}

double textWidth(const QString& text, const QFont& font)
{
    return text.isEmpty() ? 0 : setText(text, font).advance();
}

} // namespace offshoot::ui
