package com.larkfield.guide.notes;

import java.util.ArrayList;
import java.util.List;

/** Notes taken on a walk; several methods share a name, as they do in real programs. */
public final class FieldNotes {
    private final List<String> notes = new ArrayList<>();

    public void merge(List<String> added) {
        for (String note : added) {
            merge(note);
        }
        tidy();
    }

    public void merge(String note) {
        merge(note, notes.size());
    }

    public void merge(String note, int position) {
        notes.add(position, note.trim());
    }

    private void tidy() {
        notes.removeIf(note -> note.isEmpty());
        System.out.println(notes);
    }
}
