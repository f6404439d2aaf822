#include "core/evaluate/job_input.h"

#include "core/kinds/chain/chain_view.h"

namespace offshoot {

Job jobWithin(const Json& document, const std::string& path)
{
    try {
        return jobFrom(document);
    } catch (const DocumentError& error) {
        throw DocumentError(error.code(), path + error.path(), error.what());
    }
}

JobInput readJobInput(const Json& input)
{
    Fields::expectObject(input, {});
    const auto wrapped = input.find("job");
    if (wrapped == input.end()) {
        Job job = jobFrom(input);
        const double now_s = job.log.empty() ? 0 : job.log.back().time_s;
        return {std::move(job), now_s, {}};
    }
    Fields f = Fields::reader(input, {}, UnknownKeys::Refuse);
    Json ignored;
    std::optional<double> now_s;
    std::vector<ShelfEntry> shelf;
    f.may("now_s", now_s, range::not_negative);
    f.may("shelf", shelf, Lengths{0, most_on_shelf});
    for (const auto& [key, value] : input.items())
        if (key != "job" && key != "now_s" && key != "shelf")
            throw DocumentError(ErrorCode::UnknownKey, jsonPath("", key), "no such key");
    Job job = jobWithin(*wrapped, "/job");
    const double last_s = job.log.empty() ? 0 : job.log.back().time_s;
    return {std::move(job), now_s.value_or(last_s), std::move(shelf)};
}

Evaluation evaluateWhole(const JobInput& input)
{
    const auto run = chainRunOf(input.job);
    return evaluate(input.job, input.now_s, run ? &*run : nullptr);
}

Json jobInputSchema()
{
    Json bare = jobSchema();
    const Json dialect = bare.at("$schema");
    bare.erase("$schema");
    Json wrapped{{"type", "object"}, {"required", {"job"}}, {"additionalProperties", false}};
    wrapped["properties"] = {{"job", bare},
                             {"now_s", {{"type", "number"}, {"minimum", 0}}},
                             {"shelf", shelfSchema().at("properties").at("units")}};
    return {{"$schema", dialect},
            {"title", "A job, by itself or with the time"},
            {"type", "object"},
            {"anyOf", {bare, wrapped}}};
}

} // namespace offshoot
