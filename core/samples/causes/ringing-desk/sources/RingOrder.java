package com.larkfield.ringing;

import java.util.Comparator;

public class RingOrder implements Comparator<Ring> {
    @Override
    public int compare(Ring one, Ring other) {
        return one.code().compareTo(other.code().trim());
    }
}
