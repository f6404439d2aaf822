#include "ui/fields/lengths.h"

#include "core/values/figures.h"
#include "ui/look.h"

#include <QRegularExpression>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

std::vector<double> lengthsIn(const QString& text)
{
    using lengths::mm;
    std::vector<double> all;
    static const QRegularExpression between(u"[\\s,;/x×⌀]+"_s);
    for (const QString& part : text.split(between, Qt::SkipEmptyParts)) {
        bool number = false;
        const double value = part.toDouble(&number);
        if (!number || !std::isfinite(value))
            return {};
        all.push_back(value * mm);
    }
    return all;
}

QString mmText(double length_m) { return qs(millimetres(length_m)); }

} // namespace offshoot::ui
