#include "quantity/roots.hpp"
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

namespace hinge {

double crossing(const std::function<double(double)>& f, double low, double high) {
    const double at_low = f(low), at_high = f(high);
    if (!std::isfinite(at_low) || !std::isfinite(at_high)) return low;
    if (at_low == 0.0 || low >= high) return low;
    if (at_high == 0.0) return high;
    if ((at_low > 0.0) == (at_high > 0.0)) return std::abs(at_low) <= std::abs(at_high) ? low : high;
    std::uintmax_t steps = 200;
    // What is no number half-way ends the search there: no exception leaves this file.
    using namespace boost::math::policies;
    using Silent = policy<domain_error<ignore_error>, evaluation_error<ignore_error>, overflow_error<ignore_error>>;
    const auto found = boost::math::tools::toms748_solve(std::cref(f), low, high, at_low, at_high,
                                                         boost::math::tools::eps_tolerance<double>(52), steps, Silent{});
    return 0.5 * (found.first + found.second);
}

}  // namespace hinge
