#include "store/schema_check.h"

#include "core/job/job.h"

#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

#include <memory>

namespace offshoot {

namespace {

/// The schema as the library wants it; built once, since it never changes in a run.
const valijson::Schema& librarySchema()
{
    static const auto schema = [] {
        auto made = std::make_unique<valijson::Schema>();
        const auto document = nlohmann::json::parse(jobSchema().dump());
        valijson::adapters::NlohmannJsonAdapter adapter(document);
        valijson::SchemaParser parser(valijson::SchemaParser::kDraft7);
        parser.populateSchema(adapter, *made);
        return made;
    }();
    return *schema;
}

/// The library names places as <root>[need][target]; a JSON pointer says /need/target.
std::string pointerOf(const valijson::ValidationResults::Error& error)
{
    std::string path;
    for (std::size_t i = 1; i < error.context.size(); ++i) {
        const std::string& step = error.context[i];
        path += '/' + step.substr(1, step.size() - 2);
    }
    return path;
}

} // namespace

void checkAgainstJobSchema(std::string_view text)
{
    const auto document = nlohmann::json::parse(text);
    valijson::adapters::NlohmannJsonAdapter adapter(document);
    valijson::Validator validator;
    valijson::ValidationResults results;
    if (validator.validate(librarySchema(), adapter, &results))
        return;
    // The innermost complaint comes first and says most.
    valijson::ValidationResults::Error error;
    results.popError(error);
    throw DocumentError(ErrorCode::WrongType, pointerOf(error), error.description);
}

} // namespace offshoot
