// The log line at the bottom: one entry box that says how it understood before Enter, and the last readings.
#pragma once

#include "bench/meters.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QLineEdit>
#include <QWidget>

namespace offshoot::ui {

class LogBar : public QWidget
{
    Q_OBJECT

public:
    LogBar(JobSession& session, const bench::Meters& meters, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    QLineEdit& entry() { return *m_entry; }
    /// What is said about the text in the box.
    QString echo() const { return m_echo; }

Q_SIGNALS:
    /// "capture FILE" was entered.
    void captureWanted(const CaptureAsk& ask);

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
    void listReadings();
    void paintReadings(QPainter& painter, double left) const;
    double paintMeters(QPainter& painter, double right) const;
    double paintMeter(QPainter& painter, double right, const bench::MeterLink& link) const;

    JobSession& m_session;
    const bench::Meters& m_meters;
    Look& m_look;
    QLineEdit* m_entry;
    QString m_echo;
    Verdict m_verdict = Verdict::Unknown;
    bool m_judged = false;
    bool m_wrong = false;
    QList<std::pair<QString, bool>> m_readings; ///< and whether it was found so
    QString m_asked;                            ///< the text the question was put about
};

} // namespace offshoot::ui
