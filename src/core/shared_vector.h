#pragma once
// A vector whose copies share their items until one of them is changed: so that a character with other
// weights costs only the weights. Reading costs what reading a vector does. As a vector's, it may be read
// from several threads, and changed from one.
#include <cstddef>
#include <initializer_list>
#include <iterator>
#include <memory>
#include <utility>
#include <vector>

namespace hobble {

template <class T> class SharedVector {
public:
    using value_type = T;
    using size_type = std::size_t;
    using iterator = T*;
    using const_iterator = const T*;
    using reference = T&;
    using const_reference = const T&;

    SharedVector() = default;
    SharedVector(std::initializer_list<T> items) : SharedVector(std::vector<T>(items)) {}
    explicit SharedVector(std::size_t count, const T& item = T())
        : SharedVector(std::vector<T>(count, item)) {}
    template <class Iterator, class = typename std::iterator_traits<Iterator>::iterator_category>
    SharedVector(Iterator first, Iterator last) : SharedVector(std::vector<T>(first, last)) {}
    SharedVector(std::vector<T> items) // NOLINT: a vector is one whose items nobody shares yet
        : items_(std::make_shared<std::vector<T>>(std::move(items))) {
        look();
    }
    SharedVector(const SharedVector&) = default;
    SharedVector(SharedVector&& other) noexcept
        : items_(std::move(other.items_)), data_(std::exchange(other.data_, nullptr)),
          size_(std::exchange(other.size_, 0)) {}
    SharedVector& operator=(const SharedVector&) = default;
    SharedVector& operator=(SharedVector&& other) noexcept {
        items_ = std::move(other.items_);
        data_ = std::exchange(other.data_, nullptr);
        size_ = std::exchange(other.size_, 0);
        return *this;
    }
    ~SharedVector() = default;

    // Reading
    std::size_t size() const { return size_; }
    bool empty() const { return size_ == 0; }
    const T& operator[](std::size_t i) const { return data_[i]; }
    const T& at(std::size_t i) const { return vector().at(i); }
    const T* begin() const { return data_; }
    const T* end() const { return data_ + size_; }
    const T* cbegin() const { return data_; }
    const T* cend() const { return data_ + size_; }
    const T* data() const { return data_; }
    const T& front() const { return data_[0]; }
    const T& back() const { return data_[size_ - 1]; }
    const std::vector<T>& vector() const {
        static const std::vector<T> none;
        return items_ ? *items_ : none;
    }
    operator const std::vector<T>&() const { return vector(); } // NOLINT: it reads as one
    /// Whether another shares these very items.
    bool sharesWith(const SharedVector& other) const { return items_ == other.items_; }
    friend bool operator==(const SharedVector& a, const SharedVector& b) {
        return a.items_ == b.items_ || a.vector() == b.vector();
    }

    // Changing: the items become its own first
    T& operator[](std::size_t i) { return own()[i]; }
    T& at(std::size_t i) { return own().at(i); }
    T* begin() { return own().data(); }
    T* end() { return own().data() + size_; }
    T* data() { return own().data(); }
    T& front() { return own().front(); }
    T& back() { return own().back(); }
    void push_back(const T& item) {
        change([&](auto& v) { v.push_back(item); });
    }
    void push_back(T&& item) {
        change([&](auto& v) { v.push_back(std::move(item)); });
    }
    template <class... A> T& emplace_back(A&&... from) {
        change([&](auto& v) { v.emplace_back(std::forward<A>(from)...); });
        return items_->back();
    }
    void pop_back() {
        change([](auto& v) { v.pop_back(); });
    }
    void clear() { *this = {}; }
    void reserve(std::size_t count) {
        change([&](auto& v) { v.reserve(count); });
    }
    void resize(std::size_t count) {
        change([&](auto& v) { v.resize(count); });
    }
    void resize(std::size_t count, const T& item) {
        change([&](auto& v) { v.resize(count, item); });
    }
    void assign(std::size_t count, const T& item) { *this = SharedVector(count, item); }
    template <class Iterator> void append(Iterator first, Iterator last) {
        change([&](auto& v) { v.insert(v.end(), first, last); });
    }
    /// Whatever else is to be done to them as to a vector's.
    template <class F> void change(const F& how) {
        own();
        how(*items_);
        look();
    }

private:
    std::vector<T>& own() {
        if (!items_)
            items_ = std::make_shared<std::vector<T>>();
        else if (items_.use_count() > 1)
            items_ = std::make_shared<std::vector<T>>(*items_);
        look();
        return *items_;
    }
    void look() {
        data_ = items_->data();
        size_ = items_->size();
    }
    std::shared_ptr<std::vector<T>> items_;
    const T* data_ = nullptr;
    std::size_t size_ = 0;
};

} // namespace hobble
