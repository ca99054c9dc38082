// The rain as many write it first: it waits, and sees nothing meanwhile.
int pumpPin = 5;
int buttonPin = 2;
int floatPin = 7;
int drips[4] = {1, 2, 3};

void setup() {
  pinMode(pumpPin, OUTPUT);
  pinMode(buttonPin, INPUT_PULLUP);
  pinMode(floatPin, INPUT_PULLUP);
}

void loop() {
  if (digitalRead(buttonPin) == LOW) {
    digitalWrite(pumpPin, HIGH);
    delay(2990);
    digitalWrite(pumpPin, LOW);
    delay(100);
  }
}
