// What a new person may not know, said once, where it is needed, and never again when it is put away.
#pragma once

#include "ui/look.h"

#include <QWidget>
#include <set>

class QLabel;

namespace offshoot::ui {

enum class FirstNote { Isolation, LogLine };

class FirstNotes : public QWidget
{
    Q_OBJECT

public:
    explicit FirstNotes(Look& look, QWidget* parent = nullptr);
    /// The file that keeps which notes were seen. Without one no notes are shown.
    static void setPlace(const QString& file);
    /// Shows it unless it was seen before or all were put away.
    void offer(FirstNote note);

private:
    void putAway(bool all);

    QLabel* m_text;
    std::set<FirstNote> m_offered; ///< to this window
};

} // namespace offshoot::ui
