#pragma once
// What is worked out of matrices, compiled once for all who need it.
#include <Eigen/Core>

namespace hinge::plant {

/// e to the power of a square matrix: rates times seconds give the change over them.
/// Source: N. J. Higham, "The scaling and squaring method for the matrix exponential revisited", 2005 (as in Eigen).
[[nodiscard]] Eigen::MatrixXd exponential(const Eigen::MatrixXd& matrix);

/// Eigenvalues of a square matrix, in no order.
[[nodiscard]] Eigen::VectorXcd eigenvalues(const Eigen::MatrixXd& matrix);

/// Eigenvalues and, as columns in the same order, eigenvectors; the real parts only.
struct RealModes {
    Eigen::VectorXd values;
    Eigen::MatrixXd vectors;
};
[[nodiscard]] RealModes realModes(const Eigen::MatrixXd& matrix);

}  // namespace hinge::plant
