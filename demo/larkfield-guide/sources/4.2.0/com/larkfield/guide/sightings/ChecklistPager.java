package com.larkfield.guide.sightings;

/** Pages through the checklist of a county. */
public final class ChecklistPager {
    private final String[] species;

    public ChecklistPager(int size) {
        species = new String[size];
        for (int index = 0; index < size; index++) {
            species[index] = "species " + index;
        }
    }

    public void scrollToEnd() {
        for (String name : species) {
            System.out.println(name);
        }
    }
}
