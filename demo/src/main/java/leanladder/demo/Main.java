package leanladder.demo;

import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import leanladder.json.Json;

/**
 * Writes the demo estate: to the file after {@code --out}, or to standard output; with {@code --history}, the estate as it stood some
 * weeks ago and what was changed since.
 */
public final class Main {
    private Main() {}

    public static void main(String[] args) throws IOException {
        boolean withHistory = args.length == 2 && args[0].equals("--history");
        ObjectNode estate = withHistory ? new DemoHistory().build() : new DemoEstate().build();
        boolean toFile = withHistory || args.length == 2 && args[0].equals("--out");
        if (args.length > 0 && !toFile) {
            System.err.println("The demo takes --out FILE, --history FILE, or nothing.");
            System.exit(2);
        }
        if (toFile) {
            try (OutputStream out = Files.newOutputStream(Path.of(args[1]))) {
                write(estate, out);
            }
        } else {
            write(estate, System.out);
        }
    }

    private static void write(ObjectNode estate, OutputStream out) throws IOException {
        var printer = new DefaultPrettyPrinter().withObjectIndenter(new DefaultIndenter(" ", "\n"));
        Json.MAPPER.writer(printer).writeValue(out, estate);
    }
}
