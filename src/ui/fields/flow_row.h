// A row that wraps: what finds no room beside the others goes on below them. It sets its widget's height to
// the lines it takes: a height that depends on the width would make the layouts around it take what they
// would like for what they need.
#pragma once

#include <QLayout>
#include <vector>

namespace offshoot::ui {

class FlowRow : public QLayout
{
    Q_OBJECT

public:
    /// The layout of `parent`; `gap` between neighbours and lines, in pixels.
    FlowRow(QWidget* parent, int gap);
    ~FlowRow() override;

    void addItem(QLayoutItem* item) override { m_items.push_back(item); }
    int count() const override { return static_cast<int>(m_items.size()); }
    QLayoutItem* itemAt(int index) const override;
    QLayoutItem* takeAt(int index) override;
    Qt::Orientations expandingDirections() const override { return Qt::Horizontal; }
    QSize sizeHint() const override;
    QSize minimumSize() const override;
    void setGeometry(const QRect& rect) override;

private:
    /// Places the items; the height taken.
    int place(const QRect& rect) const;

    std::vector<QLayoutItem*> m_items;
    int m_gap;
};

} // namespace offshoot::ui
