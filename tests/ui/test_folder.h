// A fresh folder for each test that opens jobs: the demo job in it, and the state folder for journals.
#pragma once

#include "store/job_store.h"
#include "support/support.h"

#include <QTemporaryDir>
#include <memory>

namespace offshoot::test {

class TestFolder
{
public:
    /// Empties it; called by each test's init().
    void renew()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        qputenv("XDG_STATE_HOME", file(QStringLiteral("state")).toLocal8Bit());
    }
    QString file(const QString& name) const { return m_folder->filePath(name); }
    /// The demo job, copied here once: opened again it is the same file.
    JobStore demo() const
    {
        const QString path = file(QStringLiteral("demo.offshoot"));
        if (!QFile::exists(path))
            writeFile(path, QByteArray::fromStdString(sourceFile("data/jobs/beacon-float-charge.offshoot")));
        return JobStore::open(path);
    }

private:
    std::unique_ptr<QTemporaryDir> m_folder;
};

} // namespace offshoot::test
