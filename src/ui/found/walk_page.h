// Walk the board: one part at a time along the energy, as with the lid off. What is read is typed in a line;
// beside it stands what reading it decides.
#pragma once

#include "ui/found/walk_course.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QImage>
#include <QWidget>

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace offshoot::ui {

class PinPicture;

/// Every stop of the walk as a mark on a line: read, open, or open and worth reading.
class WalkStrip : public QWidget
{
    Q_OBJECT

public:
    explicit WalkStrip(Look& look, QWidget* parent = nullptr);
    void show(const std::vector<WalkStop>& stops, std::size_t current);
    QSize sizeHint() const override;

Q_SIGNALS:
    void chosen(int stop);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double x(std::size_t stop) const;

    Look& m_look;
    std::vector<WalkStop> m_stops;
    std::size_t m_current = 0;
};

class WalkPage : public QWidget
{
    Q_OBJECT

public:
    WalkPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    WalkCourse& course() { return m_course; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    class PartPicture;
    QWidget* reading();
    QWidget* photograph();
    void echo();
    void take();
    void later();
    void moved();
    void refresh();
    void showStop();
    void showPhoto();

    JobSession& m_session;
    Look& m_look;
    WalkCourse m_course;
    std::string m_photo;
    QImage m_image; ///< read once for each photograph: it is large
    std::string m_imageOf;
    QLabel* m_summary;
    QLabel* m_barred;
    QCheckBox* m_neverPowered;
    WalkStrip* m_strip;
    PartPicture* m_picture;
    QLabel* m_name;
    QLabel* m_where;
    QLabel* m_figures;
    QLineEdit* m_line;
    QLabel* m_echo;
    QPushButton* m_next;
    QPushButton* m_laterButton;
    QWidget* m_photoBox = nullptr;
    PinPicture* m_pins;
};

} // namespace offshoot::ui
