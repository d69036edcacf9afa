package android.app;

/** An activity of the app. */
public class Activity extends android.content.Context {}
