// The handbook in a window of its own, from inside the application: no net is needed.
#pragma once

#include "ui/look.h"

#include <QDialog>
#include <QTextBrowser>

class QListWidget;

namespace offshoot::ui {

/// The text with its pictures at the width there is.
class HandbookText : public QTextBrowser
{
    Q_OBJECT

public:
    explicit HandbookText(QWidget* parent = nullptr);
    /// Scrolls to what begins with the topic: a heading, or an entry of a list. False where nothing does.
    bool goTo(const QString& topic);
    QString topicShown() const { return m_topic; }

protected:
    QVariant loadResource(int type, const QUrl& name) override;

private:
    QString m_topic;
};

class Handbook : public QDialog
{
    Q_OBJECT

public:
    explicit Handbook(Look& look, QWidget* parent = nullptr);
    bool goTo(const QString& topic);
    HandbookText& text() { return *m_text; }

private:
    HandbookText* m_text;
    QListWidget* m_headings;
};

} // namespace offshoot::ui
