package leanladder.server.http;

import java.io.IOException;

/** A large body was given up so that another one that comes faster can be received. */
public final class UploadPreemptedException extends IOException {
    private static final long serialVersionUID = 1;

    public UploadPreemptedException() {
        super("A large body gave way to another");
    }
}
