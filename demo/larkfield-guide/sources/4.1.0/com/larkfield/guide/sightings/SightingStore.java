package com.larkfield.guide.sightings;

import java.io.EOFException;
import java.io.IOException;
import java.io.UncheckedIOException;

/** Keeps sightings until they reach the county recorder. */
final class SightingStore {
    private final String hide;
    private int written;

    SightingStore(String hide) {
        this.hide = hide;
    }

    void save(String sighting) {
        try {
            write(sighting.length());
        } catch (IOException cause) {
            throw new UncheckedIOException("could not write the sighting at " + hide, cause);
        }
    }

    private void write(int length) throws IOException {
        for (int index = 0; index < length; index++) {
            written++;
            if (written > 4) {
                throw new EOFException("unexpected end of stream after " + written + " bytes");
            }
        }
    }
}
