package com.larkfield.guide.text;

/** Checks that state what must hold; short enough for an optimiser to inline. */
public final class Require {
    private Require() {}

    public static <T> T present(T value, String what) {
        if (value == null) {
            throw new NullPointerException(what + " must not be null");
        }
        return value;
    }

    public static void open(boolean open, String what) {
        if (!open) {
            throw new IllegalStateException(what + " is already closed");
        }
    }
}
