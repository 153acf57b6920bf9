#pragma once
// The members of Held, for the .cpp that has one T of it compiled.
#include "base/held.h"

namespace vicinal {

template<class T> Held<T>::Held() : m_value(new T) {}
template<class T> Held<T>::Held(const T& value) : m_value(new T(value)) {}
template<class T> Held<T>::Held(const Held& o) : m_value(o.m_value ? new T(*o.m_value) : nullptr) {}
template<class T> Held<T>::~Held() { delete m_value; }
template<class T> Held<T>& Held<T>::operator=(const Held& o) { return *this = Held(o); }
template<class T> bool Held<T>::operator==(const Held& o) const { return *m_value == *o.m_value; }
template<class T> bool Held<T>::operator==(const T& o) const { return *m_value == o; }

} // namespace vicinal
