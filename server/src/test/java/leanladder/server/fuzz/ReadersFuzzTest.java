package leanladder.server.fuzz;

import static org.junit.jupiter.params.provider.Arguments.arguments;

import com.code_intelligence.jazzer.junit.FuzzTest;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * All readers of foreign bytes by one fuzzer, in its short turn among all other tests: what takes longest about a fuzzer is its start. The
 * first byte chooses the reader, and what is known of each reader is where it begins.
 */
class ReadersFuzzTest {
    private interface Reading {
        void of(byte[] bytes) throws IOException;
    }

    private record Reader(Class<?> test, Reading reading) {}

    private static final List<Reader> READERS = List.of(
            new Reader(EditFuzzTest.class, new EditFuzzTest()::anEditIsRefusedOrCarriedOutAndTakenBack),
            new Reader(EstateFuzzTest.class, new EstateFuzzTest()::aFileIsReadOrRefusedWithDefects),
            new Reader(LinesFuzzTest.class, new LinesFuzzTest()::aFileIsReadLineByLineOrRefused),
            new Reader(QueryFuzzTest.class, new QueryFuzzTest()::aQuestionIsAnsweredOrRefused));

    static Stream<Arguments> known() throws IOException {
        List<Arguments> known = new ArrayList<>();
        for (int reader = 0; reader < READERS.size(); reader++) {
            Path inputs = Path.of(
                    "src/test/resources/leanladder/server/fuzz",
                    READERS.get(reader).test().getSimpleName() + "Inputs");
            try (Stream<Path> files = Files.walk(inputs)) {
                for (Path file : files.filter(Files::isRegularFile).sorted().toList())
                    known.add(arguments((Object) chosen(reader, Files.readAllBytes(file))));
            }
        }
        return known.stream();
    }

    private static byte[] chosen(int reader, byte[] bytes) {
        byte[] both = new byte[bytes.length + 1];
        both[0] = (byte) reader;
        System.arraycopy(bytes, 0, both, 1, bytes.length);
        return both;
    }

    @MethodSource("known")
    @FuzzTest(maxDuration = "12s")
    void whateverBytesAreReadOrRefused(byte[] bytes) throws IOException {
        if (bytes.length == 0) return;
        Reader reader = READERS.get(Byte.toUnsignedInt(bytes[0]) % READERS.size());
        reader.reading().of(Arrays.copyOfRange(bytes, 1, bytes.length));
    }
}
