package leanladder.server.fuzz;

import com.code_intelligence.jazzer.api.BugDetectors;
import com.code_intelligence.jazzer.junit.FuzzTest;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import leanladder.server.RunningServer;
import leanladder.store.ThrowAwayPostgres;

/** A question of whatever bytes is answered, or refused as the asker's mistake. */
class QueryFuzzTest {
    private static final RunningServer SERVER = start();
    private static final List<String> ASKED = List.of(
            "/climb?account=a1&setting=chat.private&at=",
            "/climb?account=a1&setting=",
            "/climb?setting=chat.private&account=",
            "/search?q=",
            "/distribution?setting=chat.private&who=",
            "/outcomes?after=",
            "/policies/p1/reaches?filter=",
            "/differences?to=now&from=",
            "/directory/people?filter=",
            "/exceptions?filter=",
            "/settling?account=a1&setting=chat.private&at=",
            "/arrivals?who=");

    private static RunningServer start() {
        try {
            return RunningServer.start(
                            ThrowAwayPostgres.get(),
                            "query_fuzz_test",
                            Path.of("no-web"),
                            Files.readString(Path.of("../core/src/test/resources/small-estate.json")))
                    .unchecked();
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    @FuzzTest(maxDuration = "3s")
    void aQuestionIsAnsweredOrRefused(byte[] typed) {
        if (typed.length == 0) return;
        BugDetectors.allowNetworkConnections();
        String path = ASKED.get(Byte.toUnsignedInt(typed[0]) % ASKED.size());
        String value = new String(typed, 1, typed.length - 1, StandardCharsets.UTF_8);
        HttpResponse<String> answer =
                SERVER.send("GET", "/api/v1" + path + URLEncoder.encode(value, StandardCharsets.UTF_8), "");
        if (answer.statusCode() >= 500) throw new AssertionError(path + value + ": " + answer.body());
    }
}
