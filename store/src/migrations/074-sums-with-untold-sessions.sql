-- Sums of before have no sessions that only reports tell of; they are made anew as far as raw sessions are there.
UPDATE session_sums SET mark = 0, generation = generation + 1
