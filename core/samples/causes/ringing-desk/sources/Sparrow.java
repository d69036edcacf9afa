package com.larkfield.ringing;

public class Sparrow implements Bird {
    @Override
    public String song() {
        return null;
    }
}
