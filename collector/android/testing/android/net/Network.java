package android.net;

public class Network {}
