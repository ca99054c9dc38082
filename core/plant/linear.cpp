#include "plant/linear.hpp"
#include <Eigen/Eigenvalues>
#include <unsupported/Eigen/MatrixFunctions>

namespace hinge::plant {

Eigen::MatrixXd exponential(const Eigen::MatrixXd& matrix) {
    return matrix.exp();
}

Eigen::VectorXcd eigenvalues(const Eigen::MatrixXd& matrix) {
    return Eigen::EigenSolver<Eigen::MatrixXd>(matrix, false).eigenvalues();
}

RealModes realModes(const Eigen::MatrixXd& matrix) {
    const Eigen::EigenSolver<Eigen::MatrixXd> solver(matrix);
    return {solver.eigenvalues().real(), solver.eigenvectors().real()};
}

}  // namespace hinge::plant
