package leanladder.server;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import leanladder.json.Json;

/** Writes the interface's description into a file, from which the web client's types are made. */
public final class OpenApiMain {
    private OpenApiMain() {}

    /** The program's entry: the file to write. */
    public static void main(String[] args) throws IOException {
        Path file = Path.of(args[0]);
        String written = Json.MAPPER.writerWithDefaultPrettyPrinter().writeValueAsString(Server.description());
        // Left alone where it is the same, so that what is made of it is not made again.
        if (!Files.exists(file) || !Files.readString(file).equals(written)) Files.writeString(file, written);
    }
}
