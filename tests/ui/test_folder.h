// A fresh folder for each test that opens jobs: the demo job in it, and the folders for journals and the
// shelf.
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
        qputenv("XDG_DATA_HOME", file(QStringLiteral("data")).toLocal8Bit());
    }
    QString file(const QString& name) const { return m_folder->filePath(name); }
    /// The demo job, copied here once: opened again it is the same file.
    JobStore demo() const { return copied("beacon-float-charge", QStringLiteral("demo.offshoot")); }
    /// Another of the demo jobs, the same way.
    JobStore job(const std::string& name) const
    {
        return copied(name, QString::fromStdString(name) + QStringLiteral(".offshoot"));
    }

private:
    JobStore copied(const std::string& name, const QString& as) const
    {
        const QString path = file(as);
        if (!QFile::exists(path))
            writeFile(path,
                      QByteArray::fromStdString(sourceFile(("data/jobs/" + name + ".offshoot").c_str())));
        return JobStore::open(path);
    }

    std::unique_ptr<QTemporaryDir> m_folder;
};

} // namespace offshoot::test
