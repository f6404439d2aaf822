#include "ui/procedure/diagnosis_html.h"

#include "core/values/format.h"

#include <QCoreApplication>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("diagnosisHtml", text); }

QString faultWords(DividerFault fault)
{
    switch (fault) {
    case DividerFault::AsPlanned:
        return tr("as planned");
    case DividerFault::Open:
        return tr("open");
    case DividerFault::Short:
        return tr("shorted");
    case DividerFault::DecadeUp:
        return tr("ten times too large");
    case DividerFault::DecadeDown:
        return tr("ten times too small");
    case DividerFault::WrongLeg:
        return tr("across the other leg");
    case DividerFault::Reference:
        return tr("another reference fitted");
    }
    return {};
}

} // namespace

QString diagnosisHtml(const DividerDiagnoseResult& diagnosis, const QString& reading, const Look& look)
{
    if (diagnosis.verdict == DiagnosisVerdict::AsPlanned)
        return {};
    const bool explained = diagnosis.verdict != DiagnosisVerdict::Unexplained;
    QString html =
        explained ? tr("<p><b>%1 is not what the plan gives. Isolate. Single faults that explain it:</b></p>")
                        .arg(reading)
                  : tr("<p><b>No single fault explains %1. Nearest:</b></p>").arg(reading);
    html +=
        u"<table cellspacing=0 cellpadding=3><tr style='color:%1'><td></td><td>%2</td><td>%3</td><td>%4</td></tr>"_s
            .arg(look.colours().softInk.name(), tr("would read"), tr("top, dead"), tr("bottom, dead"));
    for (const FaultHypothesis& h : diagnosis.hypotheses) {
        if (!h.explains && explained)
            continue;
        const QString fault = faultWords(h.fault);
        const auto ohms = [](const std::optional<double>& v) {
            return v ? qs(formatOhms(std::round(*v))) : tr("open");
        };
        html += u"<tr><td>%1</td><td>%2</td><td>%3</td><td>%4</td></tr>"_s.arg(
            h.part ? qs(*h.part) + u' ' + fault : fault, h.v ? qs(formatVolts(*h.v)) : tr("runs away"),
            ohms(h.top_ohm), ohms(h.bottom_ohm));
    }
    return html + u"</table>"_s;
}

} // namespace offshoot::ui
