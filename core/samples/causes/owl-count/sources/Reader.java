package com.larkfield.owls;

import java.time.LocalDate;

public final class Reader {
    public static Count read(String line) {
        String[] words = words(line);
        return new Count("read").add(words[0], numberIn(words));
    }

    private static int numberIn(String[] words) {
        return Integer.parseInt(words[1]);
    }

    private static String[] words(String line) {
        return line.trim().split(" ");
    }

    public static LocalDate header(String line) {
        return LocalDate.parse(words(line)[0]);
    }
}
