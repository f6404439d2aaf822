#include "ui/fields/picture_button.h"

#include <QFontMetrics>
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr int margin = 6;

} // namespace

PictureButton::PictureButton(const QString& words, double high, Look& look, Paint paint, QWidget* parent)
    : QPushButton(words, parent)
    , m_high(high)
    , m_look(look)
    , m_paint(std::move(paint))
{
    setAccessibleName(words);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void PictureButton::setNote(const QString& note)
{
    m_note = note;
    setAccessibleDescription(note);
    updateGeometry();
}

int PictureButton::textHeight(const QFont& font, const QString& text, int width) const
{
    if (text.isEmpty())
        return 0;
    return QFontMetrics(font)
        .boundingRect(QRect(0, 0, width - 2 * margin, 10000), Qt::AlignHCenter | Qt::TextWordWrap, text)
        .height();
}

int PictureButton::heightForWidth(int width) const
{
    return m_look.px(m_high) + 3 * margin + textHeight(m_look.font(13, isChecked()), text(), width) +
           textHeight(m_look.caption(), m_note, width);
}

QSize PictureButton::sizeHint() const
{
    // Wide enough for the longest word: the others wrap.
    int width = m_look.px(56);
    const QFontMetrics metrics(m_look.font(13, true));
    for (const QString& word : text().split(u' '))
        width = std::max(width, metrics.horizontalAdvance(word) + 2 * margin + 2);
    return {width, heightForWidth(width)};
}

QSize PictureButton::minimumSizeHint() const { return {sizeHint().width(), m_look.px(m_high) + 2 * margin}; }

void PictureButton::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const QRectF frame = QRectF(rect()).adjusted(1, 1, -1, -1);
    const bool raised = isChecked() || isDown() || underMouse();
    painter.setPen(QPen(hasFocus() || isChecked() ? c.planned : c.hairline, hasFocus() ? 2 : 1));
    painter.setBrush(raised ? c.selection : c.sheet);
    painter.drawRoundedRect(frame, 4, 4);
    m_paint(painter, QRectF(margin, margin, width() - 2 * margin, m_look.px(m_high)));
    const QFont font = m_look.font(13, isChecked());
    QRect below(margin, margin + m_look.px(m_high) + margin, width() - 2 * margin,
                textHeight(font, text(), width()));
    painter.setFont(font);
    painter.setPen(c.ink);
    painter.drawText(below, Qt::AlignHCenter | Qt::TextWordWrap, text());
    below.translate(0, below.height());
    below.setHeight(textHeight(m_look.caption(), m_note, width()));
    painter.setFont(m_look.caption());
    painter.setPen(c.softInk);
    painter.drawText(below, Qt::AlignHCenter | Qt::TextWordWrap, m_note);
}

void PictureButton::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
        return click();
    QPushButton::keyPressEvent(event);
}

} // namespace offshoot::ui
