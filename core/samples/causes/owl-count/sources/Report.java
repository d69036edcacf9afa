package com.larkfield.owls;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;

public class Report {
    private Writer out = new StringWriter();

    public Report close() {
        out = null;
        return this;
    }

    public void write(String text) {
        try {
            put(text);
        } catch (IOException problem) {
            throw new UncheckedIOException(problem);
        }
    }

    private void put(String text) throws IOException {
        if (out == null) throw new IOException("the report is closed");
        out.write(text);
    }
}
