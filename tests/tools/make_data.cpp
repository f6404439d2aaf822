// make_data FOLDER: writes the published schemas, the default drawer and the demo shelf. A test compares them
// with data/.
#include "calc/calculations.h"
#include "core/evaluate/whole_job.h"
#include "core/job/job.h"
#include "core/rehearse/bench_play.h"
#include "demo_shelf.h"

#include <filesystem>
#include <fstream>
#include <iostream>

using namespace offshoot;

int main(int argc, char** argv)
{
    if (argc != 2) {
        std::cerr << "usage: make_data FOLDER\n";
        return 64;
    }
    const std::filesystem::path folder(argv[1]);
    const auto write = [&](const char* name, const std::string& text) {
        std::filesystem::create_directories((folder / name).parent_path());
        std::ofstream(folder / name, std::ios::binary) << text;
    };
    write("schemas/job.schema.json", jobSchema().dump(2) + '\n');
    write("schemas/consequences.schema.json", findCalculation("consequences")->schema().dump(2) + '\n');
    write("schemas/job.evaluate.schema.json", jobEvaluateSchema().dump(2) + '\n');
    write("schemas/bench.play.schema.json", benchPlaySchema().dump(2) + '\n');
    write("schemas/shelf.schema.json", shelfSchema().dump(2) + '\n');
    write("shelves/saltmarsh-point.shelf", writeShelf(demoShelf()));
    write("drawers/e24-e12.csv", writeDrawerCsv(defaultDrawer()));
    return 0;
}
