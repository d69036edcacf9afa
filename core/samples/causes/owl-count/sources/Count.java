package com.larkfield.owls;

import java.util.*;

public class Count {
    private final String name;
    private final Map<String, Integer> owls = new LinkedHashMap<>();

    public Count(String name) {
        this.name = name;
    }

    public Count add(String species, int number) {
        if (number < 0) throw new IllegalArgumentException(species + " cannot be " + number);
        if (owls.putIfAbsent(species, number) != null) throw new IllegalStateException(species + " is counted twice in " + name);
        return this;
    }

    private int sum() {
        int sum = 0;
        for (int number : owls.values()) sum += number;
        return sum;
    }

    public int average() {
        return sum() / owls.size();
    }

    public String most() {
        return Collections.max(owls.keySet(), (one, other) -> owls.get(one) - owls.get(other));
    }

    public Set<String> species() {
        return Collections.unmodifiableSet(owls.keySet());
    }

    public void clean() {
        for (String species : owls.keySet()) if (species.length() < 3) drop(species);
    }

    private void drop(String species) {
        owls.remove(species);
    }
}
