#include "ui/frame/meter_dialog.h"

#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/value_field.h"

#include <QAbstractButton>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

struct MeterRange
{
    QString name;
    MeterAccuracy Meter::*member;
    Quantity quantity;
    double example; ///< a reading its uncertainty is shown for
};

} // namespace

MeterDialog::MeterDialog(JobSession& session, const Look& look, QWidget* parent)
    : QDialog(parent)
{
    setWindowTitle(tr("The meter and its accuracy"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(new TextField(
        tr("Meter"), [](const Job& job) { return job.meter.name; },
        [](Job& job, std::string name) { job.meter.name = std::move(name); }, session));
    auto* grid = new QGridLayout;
    layout->addLayout(grid);
    const QStringList heads{tr("of the reading"), tr("counts"), tr("one count is"), tr("for example")};
    for (int i = 0; i < heads.size(); ++i)
        grid->addWidget(new QLabel(heads[i]), 0, i + 1);
    const std::vector<MeterRange> ranges{{tr("Volts"), &Meter::volts, Quantity::Voltage, 24},
                                         {tr("Amperes"), &Meter::amps, Quantity::Current, 2},
                                         {tr("Ohms"), &Meter::ohms, Quantity::Resistance, 10000}};
    int row = 1;
    for (const MeterRange& range : ranges) {
        const auto field = [&](const QString& what, Quantity quantity, double MeterAccuracy::*figure,
                               bool percent) {
            constexpr double whole = 1;
            constexpr double large = 1e6;
            return new ValueField(
                {.label = u"%1, %2"_s.arg(range.name, what),
                 .quantity = quantity,
                 .get = [member = range.member,
                         figure](const Job& job) { return std::optional(job.meter.*member.*figure); },
                 .set = [member = range.member, figure](
                            Job& job, std::optional<double> v) { job.meter.*member.*figure = v.value_or(0); },
                 .zeroAllowed = true,
                 .most = percent ? whole : large,
                 .percent = percent},
                session);
        };
        grid->addWidget(new QLabel(range.name), row, 0);
        grid->addWidget(field(heads[0], range.quantity, &MeterAccuracy::reading_fraction, true), row, 1);
        grid->addWidget(field(heads[1], Quantity::Number, &MeterAccuracy::counts, false), row, 2);
        grid->addWidget(field(heads[2], range.quantity, &MeterAccuracy::resolution, false), row, 3);
        auto* so = new QLabel;
        sizedWith(*so, look, [so, &look] { so->setMinimumWidth(look.px(170)); });
        grid->addWidget(so, row++, 4);
        const auto show = [so, range, &session] {
            const double u = session.job().meter.uncertainty(range.example, range.quantity);
            so->setText(tr("%1 ±%2").arg(qs(formatValue(range.example, range.quantity)),
                                         qs(formatValue(u, range.quantity, 2))));
        };
        connect(&session, &JobSession::changed, so, show);
        show();
    }
    auto* says =
        new Paragraph(tr("Every reading is judged with it: within its window only where the whole of "
                         "the uncertainty is. A reading that names its own, 27.66 +-20mV, keeps that."));
    says->setProperty("role", u"caption"_s);
    layout->addWidget(says);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::accept);
    auto* hold = buttons->addButton(tr("Hold it against a better one"), QDialogButtonBox::ActionRole);
    connect(hold, &QAbstractButton::clicked, this, [this] {
        m_hold = true;
        accept();
    });
    layout->addWidget(buttons);
}

} // namespace offshoot::ui
