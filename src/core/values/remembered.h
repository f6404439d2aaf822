// What a slow function gave last, by all that it was given: asked the same once more it is not worked out
// anew.
#pragma once

#include <algorithm>
#include <cstddef>
#include <list>
#include <utility>

namespace offshoot {

/// The last `count` answers, the latest first. Kept for one thread (`thread_local`) beside the function.
template <typename In, typename Out, std::size_t count>
class Remembered
{
public:
    /// `work(in)` or what it gave before; it stays until the next call. What `work` throws is not kept.
    template <typename Work>
    const Out& of(const In& in, Work work)
    {
        const auto known = std::find_if(m_kept.begin(), m_kept.end(),
                                        [&in](const std::pair<In, Out>& one) { return one.first == in; });
        if (known != m_kept.end()) {
            m_kept.splice(m_kept.begin(), m_kept, known);
        } else {
            m_kept.emplace_front(in, work(in));
            if (m_kept.size() > count)
                m_kept.pop_back();
        }
        return m_kept.front().second;
    }

private:
    std::list<std::pair<In, Out>> m_kept;
};

} // namespace offshoot
