package com.larkfield.ringing;

public interface Bird {
    String song();

    default int greet() {
        return song().length();
    }
}
