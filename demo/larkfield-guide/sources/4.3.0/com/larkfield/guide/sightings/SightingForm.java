package com.larkfield.guide.sightings;

import java.util.ArrayList;
import java.util.List;

/** The form a birdwatcher fills in; submit writes every row of it. */
public final class SightingForm {
    private final SightingStore store;
    private final List<String> rows = new ArrayList<>();
    private boolean dirty;

    public SightingForm(String hide) {
        store = new SightingStore(hide);
        add("Reed bunting");
        add("Bearded tit");
    }

    private void add(String row) {
        rows.add(row);
        dirty = true;
    }

    public void submit() {
        if (!dirty) {
            return;
        }
        try {
            rows.forEach(row -> store.save(row));
        } catch (RuntimeException cause) {
            throw new SubmitFailed("form with " + rows.size() + " rows was not sent", cause);
        }
        dirty = false;
    }

    /** The person keeps the form open when this is thrown. */
    static final class SubmitFailed extends RuntimeException {
        SubmitFailed(String message, Throwable cause) {
            super(message, cause);
        }
    }
}
