package com.larkfield.owls;

public class Forest {
    private final Visitor visitor = new Visitor();

    public int visit(int depth) {
        return visitor.enter(this, depth + 1);
    }

    private class Visitor {
        int enter(Forest forest, int depth) {
            return leave(forest, depth) + 1;
        }

        private int leave(Forest forest, int depth) {
            return forest.visit(depth) + depth;
        }
    }
}
