// offshoot-calc NAME [FILE]: one JSON object in, one out. See docs/FORMATS.md for the exit codes.
#include "calc/calculations.h"

#include <CLI/CLI.hpp>

#include <fstream>
#include <iostream>
#include <iterator>

namespace {

using offshoot::DocumentError;
using offshoot::ErrorCode;
using offshoot::Json;

constexpr int exit_bad_input = 2;
constexpr int exit_bad_usage = 64;

int refuse(const DocumentError& error)
{
    const Json report{
        {"error",
         {{"code", offshoot::wordFor(error.code())}, {"path", error.path()}, {"message", error.what()}}}};
    std::cerr << report.dump(-1, ' ', false, Json::error_handler_t::replace) << '\n';
    return exit_bad_input;
}

std::string readAll(const std::string& file)
{
    if (file.empty() || file == "-")
        return {std::istreambuf_iterator<char>(std::cin), {}};
    std::ifstream in(file, std::ios::binary);
    if (!in)
        throw DocumentError(ErrorCode::NotJson, "", "cannot read " + file);
    return {std::istreambuf_iterator<char>(in), {}};
}

void printList()
{
    for (const auto& calculation : offshoot::calculations())
        std::cout << calculation.name << "  " << calculation.description << '\n';
}

} // namespace

int main(int argc, char** argv)
{
    std::string name;
    std::string file;
    bool list = false;
    bool schema = false;
    CLI::App app("Offshoot's calculations: one JSON object in, one out.", "offshoot-calc");
    app.add_option("NAME", name, "the calculation");
    app.add_option("FILE", file, "its input; standard input if absent or -");
    app.set_version_flag("--version", "offshoot-calc " OFFSHOOT_VERSION, "print the version and exit");
    app.add_flag("--list", list, "print every NAME with a line of description");
    app.add_flag("--schema", schema, "print the JSON Schema of NAME's input");
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        const int status = app.exit(error);
        return status == 0 ? 0 : exit_bad_usage;
    }
    if (list) {
        printList();
        return 0;
    }
    const offshoot::Calculation* calculation = offshoot::findCalculation(name);
    if (calculation == nullptr) {
        std::cerr << "offshoot-calc: no calculation \"" << name << "\"; --list names them\n";
        return exit_bad_usage;
    }
    try {
        const Json answer =
            schema ? calculation->schema() : calculation->run(offshoot::parseJson(readAll(file)));
        std::cout << answer.dump(2) << '\n';
        return 0;
    } catch (const DocumentError& error) {
        return refuse(error);
    }
}
