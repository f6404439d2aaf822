#include "ui/shipped.h"

#include <QCoreApplication>
#include <QDir>

using namespace Qt::StringLiterals;

namespace offshoot::ui {

QString shippedFolder(const QString& name)
{
    const QString installed = QCoreApplication::applicationDirPath() + u"/../share/offshoot/"_s + name;
    return QDir(installed).exists() ? installed : QStringLiteral(OFFSHOOT_DATA_DIR "/") + name;
}

} // namespace offshoot::ui
