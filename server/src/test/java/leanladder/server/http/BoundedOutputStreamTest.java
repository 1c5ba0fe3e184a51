package leanladder.server.http;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import org.junit.jupiter.api.Test;

class BoundedOutputStreamTest {
    @Test
    void whatGoesBeyondTheBoundIsRefusedAndNotWritten() throws Exception {
        ByteArrayOutputStream taken = new ByteArrayOutputStream();
        try (BoundedOutputStream out = new BoundedOutputStream(taken, 5)) {
            out.write("12345".getBytes());
            assertThatThrownBy(() -> out.write('6'))
                    .isInstanceOf(ProblemException.class)
                    .hasMessageContaining("Narrow it by a filter");
        }
        assertThat(taken.toString()).isEqualTo("12345");
    }
}
