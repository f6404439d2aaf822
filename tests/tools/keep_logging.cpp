// keep_logging FILE: opens a job and logs readings, edits and saves for ever; prints each id once it is
// acknowledged. A test kills it and looks for what it printed.
#include "store/job_store.h"

#include <QCoreApplication>
#include <iostream>

using namespace offshoot;

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    if (argc != 2)
        return 64;
    try {
        JobStore store = JobStore::open(QString::fromLocal8Bit(argv[1]));
        Job job = store.loaded();
        for (int i = 0;; ++i) {
            LogEntry entry{.id = nextLogId(job), .time_s = static_cast<double>(i), .kind = LogKind::Reading};
            entry.point = "bulk";
            entry.quantity = Quantity::Voltage;
            entry.value = i;
            store.append(entry);
            job.log.push_back(entry);
            std::cout << entry.id << std::endl;
            if (i % 5 == 2) {
                job.title = "edit " + std::to_string(i);
                ++job.revision;
                store.noteEdits(job);
            }
            if (i % 11 == 7) {
                store.save(job);
                std::cout << "saved " << job.revision << std::endl;
            }
        }
    } catch (const std::exception& error) {
        std::cerr << error.what() << '\n';
        return 1;
    }
}
