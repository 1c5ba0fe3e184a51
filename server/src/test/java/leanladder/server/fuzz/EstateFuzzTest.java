package leanladder.server.fuzz;

import com.code_intelligence.jazzer.junit.FuzzTest;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;

/** An estate file of whatever bytes is read, or refused with defects that say where. */
class EstateFuzzTest {
    @FuzzTest(maxDuration = "3s")
    void aFileIsReadOrRefusedWithDefects(byte[] file) throws IOException {
        try {
            EstateReader.read(new ByteArrayInputStream(file));
        } catch (InvalidEstateException refused) {
            if (refused.defects().isEmpty()) throw new AssertionError("It is refused and nobody says why", refused);
        }
    }
}
