package com.larkfield.guide.tides;

import java.net.SocketTimeoutException;

/** Asks the harbour for its tide table; the network is not there in the marsh. */
final class TideClient {
    private final int timeoutMs;

    TideClient(int timeoutMs) {
        this.timeoutMs = timeoutMs;
    }

    String fetch(String harbour) {
        try {
            return connect(harbour);
        } catch (SocketTimeoutException cause) {
            throw new TideUnavailable(harbour, cause);
        }
    }

    private String connect(String harbour) throws SocketTimeoutException {
        throw new SocketTimeoutException("failed to connect to " + harbour + " within " + timeoutMs + " ms");
    }

    static final class TideUnavailable extends IllegalStateException {
        TideUnavailable(String harbour, Throwable cause) {
            super("no tide table for " + harbour, cause);
        }
    }
}
