// The laws over every combination of changes that can be planned together on each demo job and each job of
// tests/jobs.
#include "support/drawn_jobs.h"
#include "support/job_files.h"
#include "support/laws.h"
#include "support/support.h"

using namespace offshoot;

class TestLawPlans : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void combinations_data() { test::everyJobFile(); }
    void combinations()
    {
        QFETCH(QString, file);
        Job job = readJob(test::sourceFile(qPrintable(file)));
        job.drawer.clear(); // the search for parts says nothing about the order of work
        job.log.clear();
        const auto plans = test::everyPlan(job);
        QVERIFY(plans.size() >= 8);
        for (const Job& planned : plans) {
            std::string all;
            for (const std::string& line : test::breaches(planned, evaluate(planned, 1.8e9)))
                all += line + "\n";
            if (!all.empty())
                QFAIL((all + writeJob(planned)).c_str());
        }
    }
};

REGISTER_TEST(TestLawPlans, void)
#include "tst_law_plans.moc"
