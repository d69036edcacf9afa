package com.larkfield.owls;

public class Pair {
    @Override
    public boolean equals(Object other) {
        return other != null && other.equals(this);
    }

    @Override
    public int hashCode() {
        return 1;
    }
}
