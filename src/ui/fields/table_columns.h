// Columns of lists whose rows have names and choices. `list` finds the list in a job, whether it may be
// changed or not; it is asked only where the list is there.
#pragma once

#include "ui/fields/job_table.h"

#include <QCoreApplication>
#include <algorithm>
#include <string>
#include <type_traits>

namespace offshoot::ui {

/// The file wants each name once. `renamed` hears of a name that was taken, to follow it elsewhere in the
/// job.
template <class List>
TableColumn
nameOnceColumn(const QString& title, List list,
               std::function<void(Job&, const std::string& from, const std::string& to)> renamed = {})
{
    return {.title = title,
            .get = [list](const Job& job, std::size_t row) { return qs(list(job).at(row).name); },
            .set = [list, renamed](Job& job, std::size_t row, const QString& text) -> QString {
                auto& all = list(job);
                const std::string name = text.trimmed().toStdString();
                if (name.empty())
                    return QCoreApplication::translate("JobTable", "a name is wanted");
                for (std::size_t i = 0; i < all.size(); ++i)
                    if (i != row && all[i].name == name)
                        return QCoreApplication::translate("JobTable", "this name stands here already");
                const std::string before = std::exchange(all.at(row).name, name);
                if (renamed)
                    renamed(job, before, name);
                return {};
            }};
}

/// "post", "post 2": a name that no row has.
template <class Rows>
std::string freshName(const Rows& rows, const std::string& one)
{
    std::string unique = one;
    for (int i = 2; std::ranges::any_of(rows, [&](const auto& row) { return row.name == unique; }); ++i)
        unique = one + " " + std::to_string(i);
    return unique;
}

/// The values of an enumeration in the words that `said` has for each.
template <class Value>
QStringList everyWord(std::string (*said)(Value))
{
    QStringList all;
    for (std::size_t i = 0; i < Words<Value>::list.size(); ++i)
        all << qs(said(static_cast<Value>(i)));
    return all;
}

/// A member that is one of `words`, which are in the order of its values: an enumeration, or no and yes.
template <class List, class Member>
TableColumn wordColumn(const QString& title, List list, const QStringList& words, Member member)
{
    return {.title = title,
            .get =
                [list, words, member](const Job& job, std::size_t row) {
                    return words.at(static_cast<int>(list(job).at(row).*member));
                },
            .set = [list, words, member](Job& job, std::size_t row, const QString& text) -> QString {
                const auto at = words.indexOf(text);
                if (at < 0)
                    return QCoreApplication::translate("JobTable", "one of the list");
                auto& value = list(job).at(row).*member;
                value = static_cast<std::remove_reference_t<decltype(value)>>(at);
                return {};
            },
            .choices = words};
}

/// Rows of a list that come and go; `make` makes a new one for the rows that there are.
template <class List, class Make>
TableSpec listSpec(const QString& name, const QString& one, std::function<bool(const Job&)> there, List list,
                   Make make)
{
    return {.name = name,
            .one = one,
            .count = [there, list](const Job& job) { return there(job) ? list(job).size() : 0; },
            .add =
                [there, list, make](Job& job) {
                    if (there(job))
                        list(job).push_back(make(job));
                },
            .remove =
                [list](Job& job, std::size_t row) {
                    list(job).erase(list(job).begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {}};
}

} // namespace offshoot::ui
