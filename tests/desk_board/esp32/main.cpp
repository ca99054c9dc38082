#include "../desk.hpp"
namespace desk {
void begin(int argc, char** argv);
}
void setup();
void loop();
int main(int argc, char** argv) {
    desk::begin(argc, argv);
    setup();
    for (;;) {
        loop();
        desk::spend(4000);
    }
}
