#include "core/rehearse/bench_play.h"

#include "core/evaluate/job_input.h"
#include "core/rehearse/suspects.h"

#include <algorithm>

namespace offshoot {

namespace {

constexpr std::size_t most_moves = 2000;
/// Seeds that every reader of JSON keeps exactly: below 2^53.
constexpr std::int64_t most_seed = (std::int64_t{1} << 53) - 1;

/// All but the job.
struct PlayInput
{
    std::int64_t seed = 0;
    std::string fault = "none";
    std::vector<std::string> moves = {};
    bool suspects = false;
};
void fields(Fields& f, PlayInput& v)
{
    f.may("seed", v.seed, 0, most_seed);
    f.may("fault", v.fault, name_length);
    f.may("moves", v.moves, Lengths{0, most_moves});
    f.may("suspects", v.suspects);
}

struct ReadingAnswer
{
    std::string point;
    Quantity quantity;
    std::optional<double> value;
    double u;
    std::optional<double> load_a;
    std::optional<ReadingWindow> window;
    std::optional<std::string> because;
    std::optional<Verdict> verdict;
};
void fields(Fields& f, ReadingAnswer& v)
{
    f.need("point", v.point);
    f.need("quantity", v.quantity);
    f.may("value", v.value);
    f.need("u", v.u);
    f.may("load_a", v.load_a);
    f.may("window", v.window);
    f.may("because", v.because);
    f.may("verdict", v.verdict);
}

struct MoveAnswer
{
    std::string move;
    std::optional<std::string> step;
    double t_s;
    bool done;
    std::string seen;
    std::optional<ReadingAnswer> reading;
    std::optional<std::string> csv;
    std::optional<WrongAnswer> wrong;
};
void fields(Fields& f, MoveAnswer& v)
{
    f.need("move", v.move);
    f.may("step", v.step);
    f.need("t_s", v.t_s);
    f.need("done", v.done);
    f.need("seen", v.seen, any_text);
    f.may("reading", v.reading);
    f.may("csv", v.csv, Lengths{1, 100000000});
    f.may("wrong", v.wrong);
}

struct WrongCount
{
    WrongMove what;
    std::int64_t times;
};
void fields(Fields& f, WrongCount& v)
{
    f.need("what", v.what);
    f.need("times", v.times, 1, static_cast<std::int64_t>(most_moves));
}

struct TrueValue
{
    std::string name;
    double value; ///< SI unit
};
void fields(Fields& f, TrueValue& v)
{
    f.need("name", v.name);
    f.need("value", v.value);
}

struct SuspectAnswer
{
    std::string fault;
    double off;
};
void fields(Fields& f, SuspectAnswer& v)
{
    f.need("fault", v.fault);
    f.need("off", v.off, range::not_negative);
}

struct PlayAnswer
{
    std::int64_t seed;
    std::string fault;
    std::vector<MoveAnswer> moves;
    std::vector<WrongCount> wrongs;
    double elapsed_s;
    bool live;
    std::vector<TrueValue> truth;
    std::vector<std::string> not_played;
    std::optional<DividerDiagnoseResult> diagnosis;
    std::vector<SuspectAnswer> suspects = {};
};
void fields(Fields& f, PlayAnswer& v)
{
    f.need("seed", v.seed, 0, most_seed);
    f.need("fault", v.fault);
    f.need("moves", v.moves, Lengths{0, 100 * most_moves});
    f.need("wrongs", v.wrongs);
    f.need("elapsed_s", v.elapsed_s);
    f.need("live", v.live);
    f.need("truth", v.truth);
    f.may("not_played", v.not_played);
    f.may("diagnosis", v.diagnosis);
    f.may("suspects", v.suspects);
}

MoveAnswer answerOf(const PlayedMove& played)
{
    const BenchAnswer& a = played.answer;
    MoveAnswer out{.move = a.move.text(),
                   .step = played.step.empty() ? std::nullopt : std::optional(played.step),
                   .t_s = a.t_s,
                   .done = a.done,
                   .seen = a.seen,
                   .reading = std::nullopt,
                   .csv = std::nullopt,
                   .wrong = a.wrong};
    if (a.capture)
        out.csv = captureFile(*a.capture, *enumFrom<CapturePoint>(a.move.point),
                              a.move.dialect.value_or(CaptureDialect::Comma));
    if (a.reading)
        out.reading = ReadingAnswer{a.reading->point,
                                    a.reading->quantity,
                                    a.reading->value,
                                    a.reading->u,
                                    a.reading->load_a,
                                    played.window,
                                    played.window ? std::optional(played.because) : std::nullopt,
                                    played.verdict()};
    return out;
}

} // namespace

Json benchPlay(const Json& input)
{
    Fields::expectObject(input, {});
    if (!input.contains("job"))
        throw DocumentError(ErrorCode::Missing, "/job", "which job?");
    const Job job = jobWithin(input.at("job"), "/job");
    Json rest = input;
    rest.erase("job");
    const auto in = readJson<PlayInput>(rest);
    const auto seed = static_cast<std::uint64_t>(in.seed);
    const UnitFault fault = unitFaultFrom(in.fault, job, Draw(seed), "/fault");
    RehearsedJob rehearsed(job, seed, fault);
    if (input.contains("moves")) {
        for (std::size_t i = 0; i < in.moves.size(); ++i) {
            const std::string path = jsonPath("/moves", i); // tells which cannot be read or done
            rehearsed.play(benchMoveFrom(in.moves[i], path), path);
        }
    } else {
        while (rehearsed.step() != nullptr)
            rehearsed.carryOut();
    }
    const Benches& bench = rehearsed.benches();
    const ProcedurePlay& play = rehearsed.played();
    PlayAnswer out{.seed = in.seed,
                   .fault = fault.text(),
                   .moves = {},
                   .wrongs = {},
                   .elapsed_s = 0,
                   .live = false,
                   .truth = {},
                   .not_played = play.not_played,
                   .diagnosis = play.diagnosis};
    std::ranges::transform(play.moves, std::back_inserter(out.moves), answerOf);
    for (const auto& [what, times] : bench.wrongs())
        out.wrongs.push_back({what, times});
    out.elapsed_s = bench.timeS();
    out.live = bench.live();
    for (const auto& [name, value] : bench.truth())
        out.truth.push_back({name, value});
    if (in.suspects)
        for (const Suspect& one : likeliest(suspects(rehearsed)))
            out.suspects.push_back({one.fault.text(), one.off});
    return writeJson(out);
}

Json benchPlaySchema() { return schemaOf<PlayAnswer>("the answer of bench.play", UnknownKeys::Keep); }

Json benchPlayInputSchema()
{
    Json made = schemaOf<PlayInput>("input");
    Json job = jobSchema();
    job.erase("$schema");
    made["properties"]["job"] = job;
    made["required"] = {"job"};
    return made;
}

} // namespace offshoot
