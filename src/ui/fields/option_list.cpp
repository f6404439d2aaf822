#include "ui/fields/option_list.h"

#include <QPainter>
#include <QStyledItemDelegate>

namespace offshoot::ui {

class OptionList::Model : public QAbstractListModel
{
public:
    Model(Text text, QObject* parent)
        : QAbstractListModel(parent)
        , m_text(std::move(text))
    {}
    int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : m_count; }
    QVariant data(const QModelIndex& index, int role) const override
    {
        if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::ToolTipRole))
            return {};
        return m_text(index.row());
    }
    void setCount(int count)
    {
        beginResetModel();
        m_count = count;
        endResetModel();
    }

private:
    Text m_text;
    int m_count = 0;
};

class OptionList::Delegate : public QStyledItemDelegate
{
public:
    Delegate(Look& look, double height, Paint paint, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_look(look)
        , m_height(height)
        , m_paint(std::move(paint))
    {}
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override
    {
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRectF box = QRectF(option.rect).adjusted(2, 2, -2, -2);
        if (option.state.testFlag(QStyle::State_Selected)) {
            painter->setPen(
                QPen(m_look.colours().planned, option.state.testFlag(QStyle::State_HasFocus) ? 2 : 1.4));
            painter->setBrush(m_look.colours().selection);
            painter->drawRoundedRect(box, 4, 4);
        }
        m_paint(*painter, box.adjusted(m_look.px(8), 0, -m_look.px(8), 0), index.row());
        painter->restore();
    }
    QSize sizeHint(const QStyleOptionViewItem& /*option*/, const QModelIndex& /*index*/) const override
    {
        return {m_look.px(200), m_look.px(m_height)};
    }

private:
    Look& m_look;
    double m_height;
    Paint m_paint;
};

OptionList::OptionList(const QString& name, Look& look, double rowHeight, Paint paint, Text text,
                       QWidget* parent)
    : QListView(parent)
    , m_model(new Model(std::move(text), this))
{
    setObjectName(name);
    setAccessibleName(name);
    setModel(m_model);
    setItemDelegate(new Delegate(look, rowHeight, std::move(paint), this));
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& index) {
        if (hasFocus() && index.isValid())
            Q_EMIT looked(index.row());
    });
    connect(this, &QListView::clicked, this,
            [this](const QModelIndex& index) { Q_EMIT looked(index.row()); });
    connect(this, &QListView::activated, this,
            [this](const QModelIndex& index) { Q_EMIT taken(index.row()); });
}

void OptionList::follow(int row)
{
    if (!hasFocus() && row != current())
        setCurrentIndex(m_model->index(row));
}

void OptionList::setCount(int count)
{
    const int row = current();
    if (count != m_model->rowCount())
        m_model->setCount(count);
    else
        viewport()->update();
    if (row >= 0 && row < count && current() != row)
        setCurrentIndex(m_model->index(row));
}

} // namespace offshoot::ui
