/* The plain C part: what the others report to. */
static long total;
static const char *last_text;

static void remember(const char *text, long value) {
  last_text = text;
  total += value;
}

void note(const char *text, long value) {
  if (value < 0)
    remember("negative", -value);
  else
    remember(text, value);
}

__attribute__((noreturn)) void give_up(const char *reason) {
  remember(reason, 1);
  __builtin_trap();
}

long notes_total(void) { return total + (last_text ? last_text[0] : 0); }
