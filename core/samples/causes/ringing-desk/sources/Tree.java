package com.larkfield.ringing;

public class Tree {
    final String name;
    Tree up = this;

    public Tree(String name) {
        this.name = name;
    }

    public static int depth(Tree tree) {
        return 1 + depth(tree.up);
    }

    public static boolean even(Tree tree) {
        return !odd(tree.up);
    }

    private static boolean odd(Tree tree) {
        return !either(tree.up);
    }

    private static boolean either(Tree tree) {
        return even(tree.up) || tree.name.isEmpty();
    }
}
