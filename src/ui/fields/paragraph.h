#pragma once

#include <QFont>
#include <QLabel>
#include <QMargins>
#include <QString>
#include <utility>
#include <vector>

namespace offshoot::ui {

/// Words that wrap. A layout asks for their height many times over, and each time a label sets them anew,
/// twice where they are rich: what it found is kept while words, type and the space around them stay the
/// same.
class Paragraph : public QLabel
{
public:
    explicit Paragraph(const QString& text, QWidget* parent = nullptr);
    explicit Paragraph(QWidget* parent = nullptr)
        : Paragraph({}, parent)
    {}
    int heightForWidth(int width) const override;

private:
    struct Set
    {
        QString text;
        QFont font;
        QMargins margins;
        bool operator==(const Set&) const = default;
    };
    mutable Set m_set;                                  ///< what `m_heights` are of
    mutable std::vector<std::pair<int, int>> m_heights; ///< at each width that was asked for
};

} // namespace offshoot::ui
