// Bench mode: one step at a time in type readable at two metres. Space accepts what may be accepted; it never
// changes the isolation state. With a meter attached its reading stands large, and one that rests is taken by
// itself.
#pragma once

#include "bench/meters.h"
#include "core/calculate/steady.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QLineEdit;

namespace offshoot::ui {

class BenchMode : public QWidget
{
    Q_OBJECT

public:
    BenchMode(JobSession& session, bench::Meters& meters, Look& look, QWidget* parent = nullptr);
    /// The step shown; nothing when every step is done.
    const StepView* current() const;
    /// What Space would do, or why it does nothing.
    QString hint() const;

Q_SIGNALS:
    void closed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    /// The reading of the step at hand that is still to be taken, if any.
    const Asked* wanted() const;
    /// What the meter shows, where it answers the step at hand.
    std::optional<double> live() const;
    void accept();
    void takeTyped();
    void takeLive(double value);
    void follow();
    bool logText(const QString& text);
    void paintReading(QPainter& painter, const QRectF& box);

    JobSession& m_session;
    bench::Meters& m_meters;
    Look& m_look;
    SteadyReading m_steady;
    std::string m_following; ///< the step the samples belong to
    QLineEdit* m_entry;
    QString m_message;
};

} // namespace offshoot::ui
