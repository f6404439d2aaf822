// Photographs of the job, with pins that name the wires and parts seen on them.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QImage>
#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;

namespace offshoot::ui {

/// One photograph with its pins: a click sets one, or takes hold of the one that is there.
class PinPicture : public QWidget
{
    Q_OBJECT

public:
    PinPicture(Look& look, QWidget* parent = nullptr);
    void show(const QImage& image, const std::vector<PhotoPin>& pins, const QString& sentence);
    std::optional<std::size_t> current() const { return m_current; }
    void setCurrent(std::optional<std::size_t> pin);

Q_SIGNALS:
    void placed(double x, double y);
    void moved(std::size_t pin, double x, double y, bool byKey);
    void removed(std::size_t pin);
    void currentChanged();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QRectF shown() const; ///< where the photograph is
    QPointF at(const PhotoPin& pin) const;

    Look& m_look;
    QImage m_image;
    std::vector<PhotoPin> m_pins;
    std::optional<std::size_t> m_current;
    bool m_held = false;
    QString m_sentence;
};

class PhotosPage : public QWidget
{
    Q_OBJECT

public:
    PhotosPage(JobSession& session, Look& look, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void showPhoto();
    void showName();
    void rename();
    void addPhoto();
    std::string photo() const;
    /// Of the current photograph's pins, its place among all of the job's.
    std::size_t inJob(std::size_t pin) const;

    JobSession& m_session;
    QListWidget* m_list;
    PinPicture* m_picture;
    QLineEdit* m_name;
    QLabel* m_said;
};

} // namespace offshoot::ui
