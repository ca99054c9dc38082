// hinge-spark-guest: runs one firmware that is not ours on an emulated chip, shut in; started by the other programs, spoken to over its
// streams.
#include <unistd.h>
#include "emulator/guest.hpp"

int main() {
    return hinge::emulator::serveGuest(STDIN_FILENO, STDOUT_FILENO);
}
