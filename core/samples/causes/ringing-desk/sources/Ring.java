package com.larkfield.ringing;

public final class Ring {
    private final String code;

    public Ring(String code) {
        this.code = code;
    }

    public String label() {
        return "ring " + code.trim();
    }

    String code() {
        return code;
    }

    static Ring parse(String code) {
        check(code.length() <= 12, "longer than 12 letters");
        return new Ring(code);
    }

    Ring renamed(String wanted) {
        check(wanted.length() > 0, "empty");
        return new Ring(wanted);
    }

    private static void check(boolean holds, String problem) {
        if (!holds) throw new IllegalArgumentException("the code is " + problem);
    }
}
