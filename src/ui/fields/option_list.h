// A list of choices that are pictures: each row is painted by its page. Looking at one (arrows, a click) and
// taking one (Enter, a double click) are told apart.
#pragma once

#include "ui/look.h"

#include <QAbstractListModel>
#include <QListView>
#include <functional>

namespace offshoot::ui {

class OptionList : public QListView
{
    Q_OBJECT

public:
    using Paint = std::function<void(QPainter&, const QRectF&, int row)>;
    using Text = std::function<QString(int row)>;

    /// `paint` draws a row, `text` says it in words for those who do not see it.
    OptionList(const QString& name, Look& look, double rowHeight, Paint paint, Text text,
               QWidget* parent = nullptr);
    /// Takes a new number of rows; keeps the row looked at where there still is one.
    void setCount(int count);
    /// Shows what the plan holds, unless the person is looking through the list.
    void follow(int row);
    int current() const { return currentIndex().row(); }

Q_SIGNALS:
    /// The person looks at a row.
    void looked(int row);
    void taken(int row);

private:
    class Model;
    class Delegate;
    Model* m_model;
};

} // namespace offshoot::ui
