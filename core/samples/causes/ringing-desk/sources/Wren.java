package com.larkfield.ringing;

public class Wren implements Bird {
    @Override
    public String song() {
        return "tik";
    }

    @Override
    public int greet() {
        return song().charAt(Bird.super.greet());
    }
}
