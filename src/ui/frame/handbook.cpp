#include "ui/frame/handbook.h"

#include <QFile>
#include <QHBoxLayout>
#include <QImage>
#include <QListWidget>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextDocument>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

HandbookText::HandbookText(QWidget* parent)
    : QTextBrowser(parent)
{
    setAccessibleName(tr("Handbook"));
    setOpenExternalLinks(false);
    setOpenLinks(false); // it speaks of files that stand in the sources
}

QVariant HandbookText::loadResource(int type, const QUrl& name)
{
    if (type != QTextDocument::ImageResource)
        return QTextBrowser::loadResource(type, name);
    const QImage image(u":/"_s + name.path());
    constexpr int widest = 640;
    return image.width() > widest ? image.scaledToWidth(widest, Qt::SmoothTransformation) : image;
}

bool HandbookText::goTo(const QString& topic)
{
    for (QTextBlock block = document()->begin(); block.isValid(); block = block.next()) {
        if (!block.text().startsWith(topic, Qt::CaseInsensitive) ||
            (block.blockFormat().headingLevel() == 0 && block.textList() == nullptr))
            continue;
        moveCursor(QTextCursor::End); // so that it comes to the top, not just into view
        QTextCursor cursor(block);
        setTextCursor(cursor);
        verticalScrollBar()->setValue(verticalScrollBar()->value() + cursorRect().top());
        m_topic = block.text();
        return true;
    }
    return false;
}

Handbook::Handbook(Look& look, QWidget* parent)
    : QDialog(parent)
    , m_text(new HandbookText)
    , m_headings(new QListWidget)
{
    setWindowTitle(tr("Handbook"));
    setObjectName(u"handbook"_s);
    resize(look.px(960), look.px(700));
    auto* row = new QHBoxLayout(this);
    m_headings->setAccessibleName(tr("What it has"));
    sizedWith(*m_headings, look, [this, &look] { m_headings->setFixedWidth(look.px(210)); });
    row->addWidget(m_headings);
    row->addWidget(m_text, 1);
    QString text;
    for (const QString& name : {u":/HANDBOOK.md"_s, u":/FIRST-JOB.md"_s})
        if (QFile file(name); file.open(QIODevice::ReadOnly))
            text += QString::fromUtf8(file.readAll()) + u"\n"_s;
    m_text->setMarkdown(text);
    int books = 0;
    for (QTextBlock block = m_text->document()->begin(); block.isValid(); block = block.next()) {
        const int level = block.blockFormat().headingLevel();
        books += level == 1 ? 1 : 0;
        if ((level == 2 && books == 1) || (level == 1 && books > 1))
            m_headings->addItem(block.text());
    }
    connect(m_headings, &QListWidget::currentTextChanged, m_text, &HandbookText::goTo);
    m_text->setFocus(); // a list that gets the focus goes to its first row, and the text with it
}

bool Handbook::goTo(const QString& topic)
{
    const bool found = m_text->goTo(topic);
    if (isVisible())
        m_text->setFocus();
    return found;
}

} // namespace offshoot::ui
