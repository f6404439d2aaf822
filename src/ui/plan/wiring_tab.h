// The wiring that a plan makes, drawn from the connections that are calculated: the same drawing as at the
// step that makes it and in the report.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>
#include <string>

class QLabel;

namespace offshoot::ui {

class WiringPicture;

class WiringTab : public QWidget
{
    Q_OBJECT

public:
    /// `name` as in Connections: "primaries", "stack", "bus", "chain", "run", "limiter".
    WiringTab(std::string name, JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh();

    std::string m_name;
    JobSession& m_session;
    QLabel* m_sentence;
    WiringPicture* m_picture;
};

} // namespace offshoot::ui
