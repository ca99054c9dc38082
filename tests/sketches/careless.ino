// One of each habit, and one that is none: the comment's delay(500) does not count.
#define TIMES 4
const char* password = "admin";
int alarms[3] = {640, 1830, 2200};
unsigned int pulses = 0;
volatile bool seen = false;
unsigned long next = 0;
struct Clock { void adjust(long) {} } rtc;

void onPulse() {
  pulses++;
  seen = true;
  Serial.println("pulse");
}

void setup() {
  digitalWrite(5, HIGH);
  pinMode(5, OUTPUT);
  attachInterrupt(digitalPinToInterrupt(2), onPulse, FALLING);
  rtc.adjust(1764000000);
  delay(200);
}

void loop() {
  int now = millis();
  if (millis() > next + 1000) next = millis();
  for (int i = 0; i < TIMES; i++) {
    if (alarms[i] == now) blink();
  }
  noInterrupts();
  for (volatile long i = 0; i < 40000; i++) {}
  interrupts(); Serial.println(pulses);
}

void blink() {
  delay(10);
}
