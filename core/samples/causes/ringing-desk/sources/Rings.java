package com.larkfield.ringing;

import java.io.IOException;
import java.util.Comparator;

final class Format {
    static String line(Ring ring, int width) {
        String label = ring.label();
        return label.length() > width ? label.substring(0, width) : label;
    }
}

final class Scale {
    private static final int[] STEPS = new int[2];
    private static final int FIRST = STEPS[STEPS.length];

    static int grams(int step) {
        return STEPS[step] + FIRST;
    }
}

final class Archive {
    static void read(String name) throws IOException {
        if (!name.endsWith(".log")) throw new IOException("no archive " + name);
        System.out.println(name);
    }
}
