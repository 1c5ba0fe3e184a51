package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import ch.qos.logback.classic.LoggerContext;
import ch.qos.logback.classic.joran.JoranConfigurator;
import ch.qos.logback.classic.util.LogbackMDCAdapter;
import ch.qos.logback.core.status.NopStatusListener;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import leanladder.json.Json;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.slf4j.Logger;

/** The log of a server that is left running for a year: it does not fill the disk, and names the request. */
class LogTest {
    private static final long FILE = 10L << 20;
    private static final int KEPT = 5;
    private static final int LINE = 1 << 14;

    @TempDir
    Path dir;

    private Logger logger(String format) throws Exception {
        LoggerContext context = new LoggerContext();
        context.setMDCAdapter(new LogbackMDCAdapter());
        context.getStatusManager().add(new NopStatusListener());
        context.putProperty("ladder.log", dir.resolve("server.log").toString());
        JoranConfigurator configurator = new JoranConfigurator();
        configurator.setContext(context);
        configurator.doConfigure(getClass().getResource("/logback-" + format + ".xml"));
        return context.getLogger("leanladder.server");
    }

    @ParameterizedTest
    @ValueSource(strings = {"text", "json"})
    void theLogIsTurnedOverAndOldOnesGo(String format) throws Exception {
        Logger log = logger(format);
        String line = "a long line ".repeat(LINE / 12);
        for (long written = 0; written < (KEPT + 3) * FILE; written += LINE) log.info(line);
        log.info("The last line");
        try (var files = Files.list(dir)) {
            List<Path> kept = files.toList();
            assertThat(kept).hasSize(KEPT + 1);
            for (Path one : kept) assertThat(Files.size(one)).isLessThan(FILE + 2L * LINE);
        }
        List<String> lines = Files.readAllLines(dir.resolve("server.log"));
        assertThat(lines.get(lines.size() - 1)).contains("The last line");
        if (format.equals("json"))
            assertThat(Json.read(lines.get(lines.size() - 1)).get("message").asText())
                    .isEqualTo("The last line");
    }
}
