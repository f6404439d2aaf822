// A choice that is a drawing with its words below.
#pragma once

#include "ui/look.h"

#include <QPushButton>
#include <functional>

namespace offshoot::ui {

class PictureButton : public QPushButton
{
    Q_OBJECT

public:
    using Paint = std::function<void(QPainter&, const QRectF&)>;

    /// `high` of the drawing; the words wrap below it.
    PictureButton(const QString& words, double high, Look& look, Paint paint, QWidget* parent = nullptr);
    /// A second text in small letters below the words.
    void setNote(const QString& note);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int textHeight(const QFont& font, const QString& text, int width) const;

    double m_high;
    Look& m_look;
    Paint m_paint;
    QString m_note;
};

} // namespace offshoot::ui
