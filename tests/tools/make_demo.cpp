// Makes the demo jobs by living them. The committed files in data/jobs must be what this program makes; a
// test compares them.
#include "demos/demos.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <array>
#include <iostream>

using namespace offshoot;
using namespace Qt::StringLiterals;

namespace offshoot::demos {

namespace {

constexpr std::array all{Demo{"beacon-float-charge.offshoot", describeBeacon, workBeacon},
                         Demo{"ferry-shed-display.offshoot", describeFerry, workFerry},
                         Demo{"hatch-heater.offshoot", describeHeater, workHeater},
                         Demo{"mast-camera.offshoot", describeCamera, workCamera},
                         Demo{"radio-link.offshoot", describeRadio, workRadio},
                         Demo{"chart-recorder.offshoot", describeRecorder, workRecorder},
                         Demo{"fog-signal-amplifier.offshoot", describeFogSignal, workFogSignal},
                         Demo{"barograph-amplifier.offshoot", describeBarograph, workBarograph},
                         Demo{"rain-gauge-logger.offshoot", describeRainGauge, workRainGauge},
                         Demo{"splicing-bench.offshoot", describeSplicing, workSplicing},
                         Demo{"tide-house-cabinet.offshoot", describeTideHouse, workTideHouse},
                         Demo{"lamp-room-clock.offshoot", describeLampRoom, workLampRoom},
                         Demo{"searchlight.offshoot", describeSearchlight, workSearchlight},
                         Demo{"wind-recorder.offshoot", describeWindRecorder, workWindRecorder},
                         Demo{"sample-bath.offshoot", describeSampleBath, workSampleBath}};

} // namespace

std::span<const Demo> demos() { return all; }

std::vector<StockItem> drawer(const char* name)
{
    const QString path =
        QStringLiteral(OFFSHOOT_SOURCE_DIR "/data/drawers/%1.csv").arg(QLatin1StringView(name));
    return *readDrawerCsv(readFile(path).toStdString());
}

} // namespace offshoot::demos

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    if (argc != 2) {
        std::cerr << "usage: make_demo FOLDER\n";
        return 64;
    }
    for (const demos::Demo& demo : demos::demos())
        try {
            demos::Bench bench;
            bench.session().edit(QStringLiteral("demo"), demo.describe);
            demo.work(bench);
            Job job = bench.session().job();
            job.revision = 1;
            const QString path = QString::fromLocal8Bit(argv[1]) + u'/' + QLatin1StringView(demo.file);
            const QString captures = QFileInfo(path).completeBaseName() + u".captures"_s;
            for (LogEntry& entry : job.log)
                if (entry.capture)
                    entry.capture->file = (captures + u'/').toStdString() + entry.capture->from;
            for (const auto& [name, csv] : bench.files()) {
                QDir(QFileInfo(path).path()).mkpath(captures);
                writeFile(QFileInfo(path).path() + u'/' + captures + u'/' + QString::fromStdString(name),
                          QByteArray::fromStdString(csv));
            }
            writeFile(path, QByteArray::fromStdString(writeJob(job)));
            JobStore(JobStore::untitled()).discard();
        } catch (const std::exception& error) {
            std::cerr << "make_demo: " << demo.file << ": " << error.what() << '\n';
            return 1;
        }
    return 0;
}
