package com.larkfield.guide.sightings;

/** Pages through the checklist of a county. */
public final class ChecklistPager {
    private final String[] species;
    private final Cursor cursor = new Cursor();

    public ChecklistPager(int size) {
        species = new String[size];
        for (int index = 0; index < size; index++) {
            species[index] = "species " + index;
        }
    }

    public void scrollToEnd() {
        while (cursor.advance()) {
            show(cursor.current());
        }
    }

    private void show(String name) {
        System.out.println(name);
    }

    private String at(int index) {
        return species[index];
    }

    /** Walks one past the end: the fault this version shipped with. */
    private final class Cursor {
        private int index = -1;

        boolean advance() {
            index++;
            return index <= species.length;
        }

        String current() {
            return at(index);
        }
    }
}
