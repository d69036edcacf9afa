package com.larkfield.guide.sightings;

import com.larkfield.guide.text.Require;

/** Writes the diary to the memory card. */
public final class DiaryExport {
    public void toCard() throws Exception {
        try (Card card = new Card(3)) {
            for (int page = 0; page < 10; page++) {
                card.write("page " + page);
            }
        }
    }

    /** A card that fills up, and that cannot be closed once it is full. */
    private static final class Card implements AutoCloseable {
        private final int capacity;
        private int used;

        Card(int capacity) {
            this.capacity = capacity;
        }

        void write(String page) {
            if (used == capacity) {
                throw new CardFull("no room for " + page);
            }
            used++;
        }

        @Override
        public void close() {
            Require.open(used < capacity, "card");
        }
    }

    static final class CardFull extends RuntimeException {
        CardFull(String message) {
            super(message);
        }
    }
}
