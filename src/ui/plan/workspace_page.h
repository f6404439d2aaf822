// What every workspace of Plan has: the answer in one sentence at its head, its picture and choices below,
// and refreshing only while it is seen. What was previewed is dropped when the page is left.
#pragma once

#include "core/kinds/judged_line.h"
#include "ui/fields/scrolling.h"
#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QHBoxLayout;
class QLabel;
class QVBoxLayout;

namespace offshoot::ui {

class OptionList;

class WorkspacePage : public QWidget
{
    Q_OBJECT

public:
    WorkspacePage(JobSession& session, Look& look, QWidget* parent = nullptr);

protected:
    /// Takes over what the job and the selection are now.
    virtual void refresh() = 0;
    /// The row below the sentence.
    QHBoxLayout& body() { return *m_body; }
    void setSentence(const QString& text);
    /// A picture as wide as the page, between sentence and row.
    void addAbove(QWidget& picture);
    /// Looking at an option previews what it does to the job, taking it plans that.
    void offer(OptionList& list, const QString& what, const std::function<void(Job&, int row)>& apply);
    /// To be called at the end of the constructor: from now on the page follows the session.
    void follow();
    void hideEvent(QHideEvent* event) override;

    JobSession& m_session;
    Look& m_look;

private:
    QLabel* m_sentence;
    QVBoxLayout* m_column;
    QHBoxLayout* m_body;
};

/// A caption that says which keys do what, or how a picture is read.
QLabel* caption(const QString& text);
/// An empty label for rich text that wraps, from the top.
QLabel* richText();
/// What was judged as a table, each with its verdict's word.
QString judgedHtml(const std::vector<JudgedLine>& lines, const Colours& colours);
/// The schools with their figures, the one picked marked.
QString schoolsHtml(const std::vector<School>& schools, const Colours& colours);

} // namespace offshoot::ui
