// The log line at the bottom: one entry box that says how it understood before Enter, and the last readings.
#pragma once

#include "bench/meter_link.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QLineEdit>
#include <QWidget>

namespace offshoot::ui {

class LogBar : public QWidget
{
    Q_OBJECT

public:
    LogBar(JobSession& session, const bench::MeterLink& meter, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    QLineEdit& entry() { return *m_entry; }
    /// What is said about the text in the box.
    QString echo() const { return m_echo; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void understand();
    void take();
    void complete();
    void underline(const LogLine& line);
    void layoutEntry();
    void paintReadings(QPainter& painter, double left) const;
    double paintMeter(QPainter& painter, double right) const;

    JobSession& m_session;
    const bench::MeterLink& m_meter;
    Look& m_look;
    QLineEdit* m_entry;
    QString m_echo;
    Verdict m_verdict = Verdict::Unknown;
    bool m_judged = false;
    bool m_wrong = false;
    QString m_asked; ///< the text the question was put about
};

} // namespace offshoot::ui
