package com.larkfield.guide.sightings;

import java.util.ArrayList;
import java.util.List;

/** The form a birdwatcher fills in; submit writes every row of it. */
public final class SightingForm {
    private final SightingStore store;
    private final List<String> rows = new ArrayList<>();

    public SightingForm(String hide) {
        store = new SightingStore(hide);
        rows.add("Reed bunting");
        rows.add("Bearded tit");
    }

    public void submit() {
        try {
            rows.forEach(row -> store.save(row));
        } catch (RuntimeException cause) {
            throw new SubmitFailed("form with " + rows.size() + " rows was not sent", cause);
        }
    }

    /** The person keeps the form open when this is thrown. */
    static final class SubmitFailed extends RuntimeException {
        SubmitFailed(String message, Throwable cause) {
            super(message, cause);
        }
    }
}
