// An area that a page fills, and in which it scrolls where the window is lower than the page can be: nothing
// on it is squeezed below what it needs, and nothing scrolls that could be made lower.
#pragma once

#include <QScrollArea>

namespace offshoot::ui {

class PageArea : public QScrollArea
{
    Q_OBJECT

public:
    explicit PageArea(QWidget* page, QWidget* parent = nullptr);

protected:
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fit();
};

} // namespace offshoot::ui
