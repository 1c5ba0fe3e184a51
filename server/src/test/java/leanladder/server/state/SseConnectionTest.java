package leanladder.server.state;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import jakarta.servlet.AsyncContext;
import jakarta.servlet.ServletOutputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SseConnectionTest {
    private final AsyncContext context = mock(AsyncContext.class);
    private final ServletOutputStream out = mock(ServletOutputStream.class);
    private final List<SseConnection> closed = new ArrayList<>();
    private SseConnection stream;

    @BeforeEach
    void open() throws IOException {
        HttpServletRequest request = mock(HttpServletRequest.class);
        HttpServletResponse response = mock(HttpServletResponse.class);
        when(request.startAsync(request, response)).thenReturn(context);
        when(response.getOutputStream()).thenReturn(out);
        stream = SseConnection.open(request, response, closed::add);
    }

    @Test
    void oneThatIsTooFarBehindIsLetGoAndToldNothingMore() throws IOException {
        stream.onWritePossible();
        when(out.isReady()).thenReturn(false);
        for (int i = 0; i < 256; i++) stream.send("event");
        assertThat(stream.isOpen()).isTrue();
        stream.send("one too many");
        assertThat(stream.isOpen()).isFalse();
        assertThat(closed).containsExactly(stream);
        verify(context).complete();
        verify(out, times(0)).write(any(byte[].class));
    }

    @Test
    void oneThatTakesWhatItIsToldIsToldEverythingHoweverMuch() throws IOException {
        when(out.isReady()).thenReturn(true);
        stream.onWritePossible();
        for (int i = 0; i < 1000; i++) stream.send("event");
        assertThat(stream.isOpen()).isTrue();
        verify(out, times(1000)).write(any(byte[].class));
    }

    @Test
    void oneWhoseBrowserIsGoneIsNoLongerKept() throws IOException {
        when(out.isReady()).thenThrow(new IllegalStateException("gone"));
        stream.onWritePossible();
        stream.send("event");
        assertThat(closed).containsExactly(stream);
    }
}
