#include "ui/fields/paragraph.h"

#include <algorithm>

namespace offshoot::ui {

Paragraph::Paragraph(const QString& text, QWidget* parent)
    : QLabel(text, parent)
{
    setWordWrap(true);
}

int Paragraph::heightForWidth(int width) const
{
    if (Set now{text(), font(), contentsMargins()}; now != m_set) {
        m_set = std::move(now);
        m_heights.clear();
    }
    const auto known = std::ranges::find(m_heights, width, &std::pair<int, int>::first);
    if (known != m_heights.end())
        return known->second;
    const int height = QLabel::heightForWidth(width);
    constexpr std::size_t few = 8; // while a window is dragged wider every width comes once
    if (m_heights.size() == few)
        m_heights.erase(m_heights.begin());
    m_heights.emplace_back(width, height);
    return height;
}

} // namespace offshoot::ui
